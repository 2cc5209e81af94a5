import { describe, expect, it } from "vitest"
import { recordState, wantedRecords } from "./records"

const [spf, dkim, dmarc] = wantedRecords(
  "crock.example",
  [{ selector: "h1", algorithm: "rsa", key: "MIIBIjAN" }],
  "spf.mail.example",
) as [never, never, never]

describe("the records of a domain", () => {
  it("are these", () => {
    expect([spf, dkim, dmarc]).toEqual([
      { kind: "spf", name: "crock.example", value: "v=spf1 include:spf.mail.example ~all" },
      { kind: "dkim", name: "h1._domainkey.crock.example", value: "v=DKIM1; k=rsa; p=MIIBIjAN" },
      { kind: "dmarc", name: "_dmarc.crock.example", value: "v=DMARC1; p=none" },
    ])
    expect(wantedRecords("x.example", [], "ip4:192.0.2.1")[0]!.value).toBe("v=spf1 ip4:192.0.2.1 ~all")
  })
  it.each([
    [spf, ["v=spf1 mx include:spf.mail.example -all", "other text"], "well"],
    [spf, ["v=spf1 -all"], "other"],
    // RFC 7208, 5.1 and 4.6.2
    [spf, ["v=spf1 +include:spf.mail.example -all"], "well"],
    [spf, ["v=spf1 include:spf.mail.example"], "well"],
    [spf, ["v=spf1 include:spf.mail.example +all"], "other"],
    [spf, ["v=spf1 include:spf.mail.example all"], "other"],
    [spf, ["v=spf1 -all include:spf.mail.example"], "other"],
    [spf, ["v=spf1 ~all +include:spf.mail.example"], "other"],
    [spf, ["v=spf1 -include:spf.mail.example ~all"], "other"],
    [spf, ["v=spf10 x"], "missing"],
    [spf, ["v=spf1 -all", "v=spf1 ~all"], "twice"], // RFC 7208, 4.5: more than one is an error
    [dkim, ["v=DKIM1; k=rsa; p=MIIB IjAN"], "well"], // RFC 6376, 3.6.1: spaces in p= mean nothing
    [dkim, ["k=rsa; p=MIIBIjAN"], "well"],
    [dkim, ["v=DKIM1; p="], "other"], // an empty key is a key taken back
    [dkim, [], "missing"],
    [dmarc, ["v=DMARC1; p=reject; rua=mailto:x@crock.example"], "well"],
    [dmarc, ["v=DMARC1; sp=none"], "other"],
    [dmarc, null, "no-answer"],
  ])("%o %j: %s", (wanted, found, state) => expect(recordState(wanted, found)).toBe(state))
})
