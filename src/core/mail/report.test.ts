// Reports as the RFCs give them.
import { describe, expect, it } from "vitest"
import { readBounces, readComplaint, readFields } from "./report"

describe("a delivery status", () => {
  it("RFC 3464, appendix E, E.1: a simple one", () => {
    const text = `Reporting-MTA: dns; cs.utk.edu

Original-Recipient: rfc822;louisl@larry.slip.umd.edu
Final-Recipient: rfc822;louisl@larry.slip.umd.edu
Action: failed
Status: 4.0.0
Diagnostic-Code: smtp; 426 connection timed out
Last-Attempt-Date: Thu, 7 Jul 1994 17:15:49 -0400
`
    expect(readBounces(text)).toEqual([
      { recipient: "louisl@larry.slip.umd.edu", status: "4.0.0", hard: false, says: "426 connection timed out" },
    ])
  })
  it("RFC 3464, E.2: several recipients, of whom some are reached", () => {
    const text = `Reporting-MTA: dns; cs.utk.edu

Original-Recipient: rfc822;arathib@vnet.ibm.com
Final-Recipient: rfc822;arathib@vnet.ibm.com
Action: failed
Status: 5.0.0 (permanent failure)
Diagnostic-Code: smtp;
 550 'arathib@vnet.IBM.COM' is not a
 registered gateway user
Remote-MTA: dns; vnet.ibm.com

Original-Recipient: rfc822;johnh@hpnjld.njd.hp.com
Final-Recipient: rfc822;johnh@hpnjld.njd.hp.com
Action: delayed
Status: 4.0.0 (hpnjld.njd.jp.com: host name lookup failure)

Original-Recipient: rfc822;wsnell@sdcc13.ucsd.edu
Final-Recipient: rfc822;wsnell@sdcc13.ucsd.edu
Action: failed
Status: 5.0.0
Diagnostic-Code: smtp; 550 user unknown
Remote-MTA: dns; sdcc13.ucsd.edu
`
    expect(readBounces(text)).toEqual([
      {
        recipient: "arathib@vnet.ibm.com",
        status: "5.0.0",
        hard: true,
        says: "550 'arathib@vnet.IBM.COM' is not a registered gateway user",
      },
      { recipient: "wsnell@sdcc13.ucsd.edu", status: "5.0.0", hard: true, says: "550 user unknown" },
    ])
  })
  it("a mailbox that is full is for now, whatever the server says", () => {
    const text = "Reporting-MTA: dns; x\n\nFinal-Recipient: rfc822; a@x.example\nAction: failed\nStatus: 5.2.2\n"
    expect(readBounces(text)).toMatchObject([{ hard: false, says: "5.2.2" }])
  })
  it("that isn't one says nothing", () => {
    for (const text of [
      "",
      "\n\n",
      "Hello",
      "A: b",
      "A: b\n\nAction: failed\n",
      ": x\n\nAction: failed\nFinal-Recipient: \n",
    ])
      expect(readBounces(text)).toEqual([])
  })
})

describe("a complaint", () => {
  it("RFC 5965, appendix B.1: only what must be there", () => {
    expect(readComplaint("Feedback-Type: abuse\nUser-Agent: SomeGenerator/1.0\nVersion: 1\n")).toEqual({
      kind: "abuse",
      recipient: null,
    })
  })
  it("RFC 5965, B.2: everything", () => {
    const text = `Feedback-Type: abuse
User-Agent: SomeGenerator/1.0
Version: 1
Original-Mail-From: <somespammer@example.net>
Original-Rcpt-To: <user@example.com>
Arrival-Date: Thu, 8 Mar 2005 14:00:00 EDT
Reporting-MTA: dns; mail.example.com
Source-IP: 192.0.2.1
Authentication-Results: mail.example.com;
          spf=fail smtp.mail=somespammer@example.com
Reported-Domain: example.net
Reported-Uri: http://example.net/earn_money.html
Removal-Recipient: user@example.com
`
    expect(readComplaint(text)).toEqual({ kind: "abuse", recipient: "user@example.com" })
    expect(readFields(text)[0]!["authentication-results"]).toBe(
      "mail.example.com; spf=fail smtp.mail=somespammer@example.com",
    )
  })
  it("about something else is none", () => {
    for (const text of ["Feedback-Type: not-spam\nVersion: 1", "Feedback-Type: virus", "", "x"])
      expect(readComplaint(text)).toBeNull()
  })
})
