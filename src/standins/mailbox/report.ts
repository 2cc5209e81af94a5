// What a receiving server reports later: of a message that it took and could not deliver (RFC 3464), or of a reader who complained
// (RFC 5965).

export type Reports = "hard" | "soft" | "complaint"

/** What becomes of an address after its message was taken: `gone.` can't be reached, `full.` not now, `cross.` complains. */
export function reportsOf(address: string): Reports | null {
  if (/^gone\./i.test(address)) return "hard"
  if (/^full\./i.test(address)) return "soft"
  return /^cross\./i.test(address) ? "complaint" : null
}

const machinePart: Record<
  Reports,
  (to: string) => { readonly type: string; readonly report: string; readonly fields: string[] }
> = {
  hard: (to) => delivery(to, "5.1.1", "550 5.1.1 The mailbox is gone"),
  soft: (to) => delivery(to, "4.2.2", "452 4.2.2 The mailbox is full"),
  complaint: (to) => ({
    type: "message/feedback-report",
    report: "feedback-report",
    fields: ["Feedback-Type: abuse", "User-Agent: mailbox stand-in/1", "Version: 1", `Original-Rcpt-To: <${to}>`],
  }),
}

function delivery(to: string, status: string, says: string) {
  return {
    type: "message/delivery-status",
    report: "delivery-status",
    fields: [
      "Reporting-MTA: dns; mailbox.example",
      "",
      `Final-Recipient: rfc822; ${to}`,
      "Action: failed",
      `Status: ${status}`,
      `Diagnostic-Code: smtp; ${says}`,
    ],
  }
}

/** The report as it is sent to the return address of a message. */
export function reportText(what: Reports, to: string, returnPath: string, raw: string): string {
  const part = machinePart[what](to)
  const head = raw.split(/\r?\n\r?\n/)[0] ?? ""
  const lines = [
    "From: <postmaster@mailbox.example>",
    `To: <${returnPath}>`,
    "Subject: Report of your message",
    `Date: ${new Date().toUTCString()}`,
    "MIME-Version: 1.0",
    `Content-Type: multipart/report; report-type=${part.report}; boundary="part"`,
    "",
    "--part",
    "Content-Type: text/plain",
    "",
    `This is about a message to ${to}.`,
    "--part",
    `Content-Type: ${part.type}`,
    "",
    ...part.fields,
    "",
    "--part",
    "Content-Type: text/rfc822-headers",
    "",
    ...head.split(/\r?\n/),
    "",
    "--part--",
    "",
  ]
  return lines.join("\r\n")
}
