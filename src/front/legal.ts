// Imprint, privacy and terms, where they are shown; a page of a funnel may stand there where they aren't.
import { type LegalKind, legalPage } from "@/core/page/legal"
import { legalText } from "@/server/page/legal"
import type { HttpAnswer } from "./exchange"
import { type Front, ownPage } from "./reply"

export async function legal(front: Front, kind: LegalKind): Promise<HttpAnswer | undefined> {
  const text = await legalText(front.s.db, kind)
  if (!text) return undefined
  const { html, style } = legalPage(kind, text.shown, text.at, text.zone, front.live.school())
  return ownPage(html, style)
}
