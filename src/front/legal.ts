// Imprint, privacy and terms, where they are shown; a page of a funnel may stand there where they aren't.
import { type LegalKind, legalPage } from "@/core/page/legal"
import { legalText } from "@/server/page/legal"
import type { HttpAnswer } from "./exchange"
import { commonHeaders, pagePolicy } from "./policy"
import type { Front } from "./reply"

export async function legal(front: Front, kind: LegalKind): Promise<HttpAnswer | undefined> {
  const text = await legalText(front.s.db, kind)
  if (!text) return undefined
  const { html, style } = legalPage(kind, text.shown, text.at, text.zone, front.live.school())
  return {
    status: 200,
    headers: {
      ...commonHeaders,
      "content-type": "text/html; charset=utf-8",
      "content-security-policy": pagePolicy(style, ""),
      "cache-control": "private, no-cache",
    },
    body: html,
  }
}
