// The examples of the IBAN registry (ISO 13616, published by its registration authority), one for each country in it, as
// remembered; each is checked by a second library from the registry of packages as well.
import IBAN from "iban"
import { describe, expect, it } from "vitest"
import { ibanShort, ibanText, isSepa, readBic, readIban } from "./iban"

const examples =
  `AD1200012030200359100100 AE070331234567890123456 AL47212110090000000235698741 AT611904300234573201 AZ21NABZ00000000137010001944
BA391290079401028494 BE68539007547034 BG80BNBG96611020345678 BH67BMAG00001299123456 BI4210000100010000332045181 BR1800360305000010009795493C1
BY13NBRB3600900000002Z00AB00 CH9300762011623852957 CR05015202001026284066 CY17002001280000001200527600 CZ6508000000192000145399
DE89370400440532013000 DJ2100010000000154000100186 DK5000400440116243 DO28BAGR00000001212453611324 EE382200221020145685
EG380019000500000000263180002 ES9121000418450200051332 FI2112345600000785 FK88SC123456789012 FO6264600001631634 FR1420041010050500013M02606
GB29NWBK60161331926819 GE29NB0000000101904917 GI75NWBK000000007099453 GL8964710001000206 GR1601101250000000012300695
GT82TRAJ01020000001210029690 HR1210010051863000160 HU42117730161111101800000000 IE29AIBK93115212345678 IL620108000000099999999
IQ98NBIQ850123456789012 IS140159260076545510730339 IT60X0542811101000000123456 JO94CBJO0010000000000131000302 KW81CBKU0000000000001234560101
KZ86125KZT5004100100 LB62099900000001001901229114 LC55HEMM000100010012001200023015 LI21088100002324013AA LT121000011101001000
LU280019400644750000 LV80BANK0000435195001 LY83002048000020100120361 MC5811222000010123456789030 MD24AG000225100013104168
ME25505000012345678951 MK07250120000058984 MN121234123456789123 MR1300020001010000123456753 MT84MALT011000012345MTLCAST001S
MU17BOMM0101101030300200000MUR NI45BAPR00000013000003558124 NL91ABNA0417164300 NO9386011117947 OM810180000001299123456
PK36SCBL0000001123456702 PL61109010140000071219812874 PS92PALS000000000400123456702 PT50000201231234567890154
QA58DOHB00001234567890ABCDEFG RO49AAAA1B31007593840000 RS35260005601001611379 RU0304452522540817810538091310419
SA0380000000608010167519 SC18SSCB11010000000000001497USD SD2129010501234001 SE4550000000058398257466 SI56263300012039086
SK3112000000198742637541 SM86U0322509800000000270100 SO211000001001000100141 ST23000100010051845310146 SV62CENR00000000000000700025
TL380080012345678910157 TN5910006035183598478831 TR330006100519786457841326 UA213223130000026007233566001 VA59001123000012345678
VG96VPVG0000012345678901 XK051212012345678906 YE15CBYE0001018861234567891234`
    .trim()
    .split(/\s+/)

/** What the second library doesn't know yet: countries that joined the registry after its last release. */
const newer = new Set("BI DJ FK HN MN NI OM RU SD SO YE LY".split(" "))

describe("the number of an account", () => {
  it("is read for every country of the registry, by its published example", () => {
    for (const iban of examples) {
      expect(readIban(iban), iban).toEqual({ iban })
      if (!newer.has(iban.slice(0, 2))) expect(IBAN.isValid(iban), iban).toBe(true)
    }
    expect(new Set(examples.map((e) => e.slice(0, 2))).size).toBeGreaterThan(80)
  })
  it("with one digit wrong, or two changed about, is refused for every country", () => {
    for (const iban of examples) {
      const at = iban.length - 1 - [...iban].reverse().findIndex((c) => /\d/.test(c))
      const wrong = iban.slice(0, at) + ((Number(iban[at]) + 1) % 10) + iban.slice(at + 1)
      expect(readIban(wrong), wrong).toHaveProperty("trouble")
    }
    expect(readIban("DE98370400440532013000")).toEqual({ trouble: "digits" })
  })
  it.each([
    ["de89 3704 0044 0532 0130 00", { iban: "DE89370400440532013000" }],
    ["IBAN: DE89-3704-0044-0532-0130-00", { iban: "DE89370400440532013000" }],
    ["ＤＥ８９370400440532013000", { iban: "DE89370400440532013000" }],
    ["", { trouble: "empty" }],
    ["   ", { trouble: "empty" }],
    ["US12 3456 7890", { trouble: "country" }],
    ["XX12 3456 7890", { trouble: "country" }],
    ["DE89 3704 0044 0532 0130", { trouble: "length" }],
    ["DE89 3704 0044 0532 0130 0012", { trouble: "length" }],
    ["12345678", { trouble: "form" }],
    ["my account", { trouble: "country" }],
    ["Ω".repeat(500), { trouble: "form" }],
  ])("typed as %j", (typed, read) => {
    expect(readIban(typed)).toEqual(read)
  })
  it("is written in fours, and in short for whoever only wants to know it again", () => {
    expect(ibanText("NO9386011117947")).toBe("NO93 8601 1117 947")
    expect(ibanShort("NO9386011117947")).toBe("NO93 … 7947")
    expect(ibanShort("")).toBe("")
  })
  it("is reached by SEPA in Norway and Switzerland, and not in Georgia's neighbour", () => {
    expect(["NO9386011117947", "CH9300762011623852957", "TR330006100519786457841326"].map(isSepa)).toEqual([
      true,
      true,
      false,
    ])
  })
})

describe("a BIC", () => {
  // ISO 9362: four letters of the bank, two of the country, two of the place, three of the branch or none.
  it.each([
    ["DEUTDEFF", "DEUTDEFF"],
    ["deut de ff 500", "DEUTDEFF500"],
    ["", ""],
    ["DEUT", null],
    ["DEUTXXFF", null],
    ["12345678", null],
  ])("typed as %j is %j", (typed, read) => {
    expect(readBic(typed)).toBe(read)
  })
})
