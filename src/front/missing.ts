// What stands nowhere, and what stood somewhere once: both lead on.
import { words } from "@/core/words/en"
import type { HttpAnswer, Request } from "./exchange"
import { type Front, plainAnswer } from "./reply"

/** 410 where a page of the school has stood and nothing has taken its place, else 404; with the ways on that there are. */
export async function missing(front: Front, { method, path }: Request): Promise<HttpAnswer> {
  const stood =
    method !== "POST" && path.length <= 160 && front.live.reachable()
      ? await front.s.db.row("SELECT 1 FROM page_before WHERE path = ?", [path])
      : undefined
  const says = stood ? words.missing.gone : words.missing.never
  const links = front.live.school().name
    ? [
        { href: "/", says: words.missing.home },
        { href: "/learn", says: words.home.learn },
      ]
    : []
  return plainAnswer(front, stood ? 410 : 404, { title: says.title, paragraphs: [says.text], links })
}
