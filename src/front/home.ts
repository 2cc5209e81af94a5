// What stands at `/` until the school has a front page: what is live and begins for everybody, and the way to the learning area.
import { words } from "@/core/words/en"
import type { HttpAnswer } from "./exchange"
import { commonHeaders } from "./policy"
import { type Front, plainAnswer } from "./reply"

export function home(front: Front): HttpAnswer {
  const { name } = front.live.school()
  // A school that nobody has opened yet is opened in the studio.
  if (!name) return { status: 302, headers: { ...commonHeaders, location: "/studio" }, body: "" }
  const begins = front.live.beginnings()
  return plainAnswer(front, 200, {
    title: name,
    paragraphs: [begins.length ? words.home.begins : words.home.nothing],
    links: [
      ...begins.map((p) => ({ href: `/${p.path}`, says: p.title || p.path })),
      { href: "/learn", says: words.home.learn },
    ],
  })
}
