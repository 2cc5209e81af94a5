// Tells whoever works in the school what the week before brought, with the report beside it.
import { escapeHtml } from "@/core/html"
import { reportDays, storyOf } from "@/core/numbers/report"
import { words } from "@/core/words/en"
import { clockOf } from "../../clock"
import type { WriteLetter } from "../../port/letter"
import { reportFile, reportOf, weekBefore } from "../report"

export const reportLetter: WriteLetter = async (db, config, school, mail) => {
  const period = await weekBefore(db, mail.note ?? "")
  const report = await reportOf({ db, clock: clockOf(db, config.mode) }, period, null)
  const file = await reportFile(config, report)
  return {
    subject: words.mail.reportSubject(school.name, reportDays(report)),
    body: storyOf(report)
      .map((sentence) => `<p>${escapeHtml(sentence)}</p>`)
      .join(""),
    button: {
      says: words.mail.reportButton,
      url: `${config.origin}/studio/numbers?from=${report.from}&to=${report.to}`,
    },
    after: words.mail.reportAfter,
    attached: { filename: file.name, contentType: "application/pdf", content: file.bytes },
  }
}
