// The replay and the room as HTML: what is typed is text wherever it stands, and each state says what it is.
import { describe, expect, it } from "vitest"
import { plainly, wear } from "@/core/look/look"
import { type ReplayView, replayHtml } from "./replay"
import { roomPage, seatOfferHtml } from "./room"

const evil = `"><script>alert(1)</script>`
const there: ReplayView = {
  is: "there",
  until: "Sunday 6 December at 23:59",
  plays: { url: "/media/a.mp4?key=x&y=1", type: "video/mp4" },
  captions: "/media/a.vtt",
  chapters: [{ at: 90, title: evil }],
  handout: { url: "/media/h.pdf", name: evil },
  offer: { html: seatOfferHtml(undefined, evil, "/x?offer=1"), at: 2_400, part: 2 / 3 },
}

describe("the replay", () => {
  it("says until when, plays with captions, and jumps to a chapter without script, too (W3C Media Fragments)", () => {
    const html = replayHtml(there).text
    expect(html).toContain("until Sunday 6 December at 23:59")
    expect(html).toContain('<track kind="captions" src="/media/a.vtt"')
    expect(html).toContain('href="/media/a-1280.mp4?key=x&amp;y=1#t=90"')
    expect(html).toContain('data-at="2400"')
    expect(html).not.toContain("<script>")
  })

  it.each([
    [{ is: "unknown" }, "Open the link in your e-mail"],
    [{ is: "before", starts: 0, zone: "UTC" }, "once the webinar is over"],
    [{ is: "over", until: "Sunday" }, "was there until Sunday"],
    [{ is: "missing" }, "being prepared"],
  ] as const)("%j", (view, says) => expect(replayHtml(view).text).toContain(says))
})

describe("the room", () => {
  const view = {
    title: evil,
    host: evil,
    starts: Date.parse("2026-12-03T18:00:00Z"),
    zone: "Europe/Oslo",
    school: { name: evil, look: wear(plainly("kitchen-table")) },
    path: "/room/1.abc",
    chat: "all",
    phase: "running",
    plays: { url: "/media/a.mp4", type: "video/mp4" },
    captions: null,
    handout: { url: "/media/h.pdf", name: evil },
    replay: "/x/replay",
  } as const
  const bodyOf = (html: string) => html.slice(0, html.lastIndexOf("<script>"))

  it("takes no markup from what was typed, and has the one script that its policy names", () => {
    const { html, script } = roomPage(view)
    expect(bodyOf(html)).not.toContain("<script>")
    expect(html.split("<script>")).toHaveLength(2)
    expect(html).toContain(`<script>${script}</script>`)
    expect(() => new Function(script)).not.toThrow()
  })

  it("shows what its phase has: a countdown before, a word while the host is late, a hand-out from the start on", () => {
    const at = (phase: "before" | "waiting" | "running") => bodyOf(roomPage({ ...view, phase }).html)
    expect(at("before")).toContain('role="timer"')
    expect(at("before")).not.toContain("h.pdf")
    expect(at("waiting")).toContain("about to begin")
    expect(at("running")).toContain("<video")
    expect(at("running")).toContain("h.pdf")
  })

  it("has no chat where it is off, and the same script without it", () => {
    const { html, script } = roomPage({ ...view, chat: "off" })
    expect(html).not.toContain('id="say"')
    expect(() => new Function(script)).not.toThrow()
  })
})
