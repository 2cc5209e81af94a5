// To whom a notice is shown, and when: common practice.
import { describe, expect, it } from "vitest"
import type { Segment } from "../person/segment/segment"
import { isShown, type Notice, type NoticeAsking, neverShown, refsOfNotice } from "./notice"

const all = (...parts: Segment["parts"]): Segment => ({ match: "all", parts })

const notice: Notice = {
  place: "lesson",
  course: null,
  title: "x",
  body: "",
  button: "",
  leads: null,
  segment: all(),
  from: null,
  until: null,
  most: null,
  live: true,
}
const asking: NoticeAsking = { place: "lesson", course: 10, today: "2026-11-25", seen: 0, meant: true }

describe("a notice", () => {
  it.each<[Partial<Notice>, Partial<NoticeAsking>, boolean]>([
    [{}, {}, true],
    [{ live: false }, {}, false],
    [{ place: "shelf" }, {}, false],
    [{ course: 10 }, {}, true],
    [{ course: 11 }, {}, false],
    [{ place: "shelf", course: 11 }, { place: "shelf", course: null }, true],
    [{ from: "2026-11-25", until: "2026-11-25" }, {}, true],
    [{ from: "2026-11-26" }, {}, false],
    [{ until: "2026-11-24" }, {}, false],
    [{ most: 3 }, { seen: 2 }, true],
    [{ most: 3 }, { seen: 3 }, false],
    [{}, { meant: false }, false],
  ])("%j, asked %j, is shown: %s", (more, ask, shown) => {
    expect(isShown({ ...notice, ...more }, { ...asking, ...ask })).toBe(shown)
  })

  it.each<[Partial<Notice>, ReturnType<typeof neverShown>]>([
    [{}, null],
    [{ until: "2026-11-24" }, "over"],
    [{ from: "2026-12-02", until: "2026-12-01" }, "backwards"],
    [{ place: "sign-in", segment: all({ kind: "tag", tag: 1, has: true }) }, "nobody"],
    [{ place: "sign-in", segment: all({ kind: "tag", tag: 1, has: false }) }, null],
    [{ place: "shelf", segment: all({ kind: "signed-in", is: false }) }, "nobody"],
    [{ segment: all({ kind: "signed-in", is: false }) }, null],
    [
      {
        segment: all({ kind: "signed-in", is: false }, { kind: "progress", course: 1, from: 0, to: 9 }),
      },
      "nobody",
    ],
  ])("%j is never shown because: %s", (more, why) => {
    expect(neverShown({ ...notice, ...more }, "2026-11-25")).toBe(why)
  })

  it("names what it refers to", () => {
    const refs = refsOfNotice({
      leads: { to: "offer", id: 3 },
      segment: all(
        { kind: "tag", tag: 1, has: true },
        { match: "any", not: true, parts: [{ kind: "progress", course: 2, from: 0, to: 1 }] },
        { kind: "bought", offer: 4, has: true, days: null },
        { kind: "signed-in", is: true },
      ),
    })
    expect(refs.map((r) => `${r.to}:${r.id}`)).toEqual(["offer:3", "tag:1", "course:2", "offer:4"])
  })
})
