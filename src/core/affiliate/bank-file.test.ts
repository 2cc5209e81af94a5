// Read back by an independent parser (fast-xml-parser), and held against what the message definition of pain.001.001.09 and
// the SEPA guidelines ask for: order, lengths, letters, sums. The definition from memory.
import { XMLParser, XMLValidator } from "fast-xml-parser"
import { describe, expect, it } from "vitest"
import { type BankFile, bankFoot, bankHead, bankNamespace, bankPayment, isRewritten, isSepaFile } from "./bank-file"

const from = { holder: "Juniper Crock & Søn", iban: "NO9386011117947", bic: "DNBANOKK" }
const payments = [
  {
    id: "P7-1",
    holder: "Ada Fern",
    iban: "DE89370400440532013000",
    bic: "",
    amount: 6_960,
    says: "Commission Juniper Crock P7-1",
  },
  {
    id: "P7-2",
    holder: "Ελένη 🥒 <Reed>",
    iban: "GR1601101250000000012300695",
    bic: "ETHNGRAA",
    amount: 5,
    says: "Commission “Juniper Crock” P7-2",
  },
  {
    id: "P7-3",
    holder: "x".repeat(140),
    iban: "FR1420041010050500013M02606",
    bic: "",
    amount: 123_456_789,
    says: "y".repeat(300),
  },
]
const file = (more: Partial<BankFile> = {}): BankFile => ({
  id: "JUNIPER-P7",
  currency: "EUR",
  madeAt: Date.parse("2026-11-26T13:00:00.123Z"),
  day: "2026-12-01",
  from,
  count: payments.length,
  sum: payments.reduce((sum, p) => sum + p.amount, 0),
  sepa: true,
  ...more,
})
const text = (f = file()) => bankHead(f) + payments.map((p) => bankPayment(f, p)).join("") + bankFoot
const parse = (xml: string) =>
  new XMLParser({ ignoreAttributes: false, parseTagValue: false, isArray: (name) => name === "CdtTrfTxInf" }).parse(xml)
type Node = Record<string, unknown>
const initiation = (f = file()) => parse(text(f)).Document.CstmrCdtTrfInitn

describe("a file for the bank", () => {
  it("is well-formed XML in the message's own namespace", () => {
    expect(XMLValidator.validate(text())).toBe(true)
    expect(parse(text()).Document["@_xmlns"]).toBe(bankNamespace)
    expect(bankNamespace).toBe("urn:iso:std:iso:20022:tech:xsd:pain.001.001.09")
  })
  it("has its elements in the order of the definition", () => {
    const { GrpHdr, PmtInf } = initiation()
    expect(Object.keys(GrpHdr)).toEqual(["MsgId", "CreDtTm", "NbOfTxs", "CtrlSum", "InitgPty"])
    expect(Object.keys(PmtInf)).toEqual([
      "PmtInfId",
      "PmtMtd",
      "BtchBookg",
      "NbOfTxs",
      "CtrlSum",
      "PmtTpInf",
      "ReqdExctnDt",
      "Dbtr",
      "DbtrAcct",
      "DbtrAgt",
      "ChrgBr",
      "CdtTrfTxInf",
    ])
    expect(Object.keys(PmtInf.CdtTrfTxInf[1])).toEqual(["PmtId", "Amt", "CdtrAgt", "Cdtr", "CdtrAcct", "RmtInf"])
    expect(PmtInf.ReqdExctnDt).toEqual({ Dt: "2026-12-01" })
    expect(PmtInf.PmtTpInf.SvcLvl.Cd).toBe("SEPA")
    expect(PmtInf.ChrgBr).toBe("SLEV")
  })
  it("counts and sums what is in it, exactly", () => {
    const { GrpHdr, PmtInf } = initiation()
    const amounts: string[] = PmtInf.CdtTrfTxInf.map((t: Node) => ((t.Amt as Node).InstdAmt as Node)["#text"])
    expect(amounts).toEqual(["69.60", "0.05", "1234567.89"])
    const cents = amounts.reduce((sum, a) => sum + BigInt(a.replace(".", "")), 0n)
    for (const at of [GrpHdr, PmtInf]) {
      expect(at.NbOfTxs).toBe("3")
      expect(BigInt(at.CtrlSum.replace(".", ""))).toBe(cents)
    }
    expect(PmtInf.CdtTrfTxInf[0].Amt.InstdAmt["@_Ccy"]).toBe("EUR")
  })
  it("keeps to the lengths and letters of the definition and the rulebook", () => {
    const limits: Record<string, number> = {
      MsgId: 35,
      PmtInfId: 35,
      EndToEndId: 35,
      Nm: 70,
      Ustrd: 140,
      IBAN: 34,
      BICFI: 11,
    }
    const letters = /^[A-Za-z0-9/\-?:().,'+ ]+$/
    let seen = 0
    const walk = (node: unknown) => {
      if (typeof node !== "object" || node === null) return
      for (const [name, value] of Object.entries(node)) {
        if (limits[name] && typeof value === "string") {
          seen++
          expect(value.length, name).toBeLessThanOrEqual(limits[name])
          expect(value, name).toMatch(letters)
        }
        if (Array.isArray(value)) for (const v of value) walk(v)
        else walk(value)
      }
    }
    walk(initiation())
    expect(seen).toBe(19)
    expect(initiation().GrpHdr.CreDtTm).toBe("2026-11-26T13:00:00.123Z")
  })
  it("names no bank where none is known, and the bank where one is", () => {
    const { PmtInf } = initiation()
    expect(PmtInf.DbtrAgt.FinInstnId).toEqual({ BICFI: "DNBANOKK" })
    expect(PmtInf.CdtTrfTxInf[0].CdtrAgt).toBeUndefined()
    expect(initiation(file({ from: { ...from, bic: "" } })).PmtInf.DbtrAgt.FinInstnId).toEqual({
      Othr: { Id: "NOTPROVIDED" },
    })
  })
  it("is no SEPA payment in another currency or to another place", () => {
    expect(isSepaFile("EUR", payments)).toBe(true)
    expect(isSepaFile("EUR", [...payments, { iban: "TR330006100519786457841326" }])).toBe(false)
    expect(isSepaFile("NOK", payments)).toBe(false)
    const { PmtInf } = initiation(file({ currency: "JPY", sepa: false }))
    expect(PmtInf.PmtTpInf).toBeUndefined()
    expect(PmtInf.ChrgBr).toBe("SHAR")
    // Yen have no minor unit.
    expect(PmtInf.CdtTrfTxInf[0].Amt.InstdAmt).toEqual({ "#text": "6960", "@_Ccy": "JPY" })
  })
  it("says whose name is written otherwise, and takes no identifier that a bank would not", () => {
    expect(payments.map(isRewritten)).toEqual([false, true, true])
    expect(() => bankHead(file({ id: "x".repeat(36) }))).toThrow(RangeError)
    expect(() => bankHead(file({ id: "P_1" }))).toThrow(RangeError)
  })
})
