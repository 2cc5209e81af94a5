// To whom a notice is shown, and when: common practice.
import { describe, expect, it } from "vitest"
import { isIn, type Segment, type Standing, stranger } from "../person/segment"
import { isShown, type Notice, type NoticeAsking, neverShown, refsOfNotice } from "./notice"

const ana: Standing = {
  signedIn: true,
  tags: new Set([1]),
  courses: new Set([10]),
  offers: new Set([20]),
  progress: new Map([[10, 40]]),
}

describe("a segment", () => {
  it.each<[Segment, boolean, boolean]>([
    [[], true, true],
    [[{ kind: "signed-in", is: true }], true, false],
    [[{ kind: "signed-in", is: false }], false, true],
    [[{ kind: "tag", tag: 1, has: true }], true, false],
    [[{ kind: "tag", tag: 2, has: false }], true, true],
    [[{ kind: "course", course: 10, has: false }], false, true],
    [[{ kind: "offer", offer: 20, has: true }], true, false],
    [[{ kind: "progress", course: 10, from: 40, to: 60 }], true, false],
    [[{ kind: "progress", course: 10, from: 41, to: 60 }], false, false],
    [[{ kind: "progress", course: 11, from: 0, to: 100 }], false, false],
    [
      [
        { kind: "course", course: 10, has: true },
        { kind: "offer", offer: 20, has: false },
      ],
      false,
      false,
    ],
  ])("%j holds of a learner: %s, of a stranger: %s", (segment, learner, nobody) => {
    expect(isIn(segment, ana)).toBe(learner)
    expect(isIn(segment, stranger)).toBe(nobody)
  })
})

const notice: Notice = {
  place: "lesson",
  course: null,
  title: "x",
  body: "",
  button: "",
  leads: null,
  segment: [],
  from: null,
  until: null,
  most: null,
  live: true,
}
const asking: NoticeAsking = { place: "lesson", course: 10, today: "2026-11-25", seen: 0, standing: ana }

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
    [{ segment: [{ kind: "tag", tag: 9, has: true }] }, {}, false],
  ])("%j, asked %j, is shown: %s", (more, ask, shown) => {
    expect(isShown({ ...notice, ...more }, { ...asking, ...ask })).toBe(shown)
  })

  it.each<[Partial<Notice>, ReturnType<typeof neverShown>]>([
    [{}, null],
    [{ until: "2026-11-24" }, "over"],
    [{ from: "2026-12-02", until: "2026-12-01" }, "backwards"],
    [{ place: "sign-in", segment: [{ kind: "tag", tag: 1, has: true }] }, "nobody"],
    [{ place: "sign-in", segment: [{ kind: "tag", tag: 1, has: false }] }, null],
    [{ place: "shelf", segment: [{ kind: "signed-in", is: false }] }, "nobody"],
    [{ segment: [{ kind: "signed-in", is: false }] }, null],
    [
      {
        segment: [
          { kind: "signed-in", is: false },
          { kind: "progress", course: 1, from: 0, to: 9 },
        ],
      },
      "nobody",
    ],
  ])("%j is never shown because: %s", (more, why) => {
    expect(neverShown({ ...notice, ...more }, "2026-11-25")).toBe(why)
  })

  it("names what it refers to", () => {
    const refs = refsOfNotice({
      leads: { to: "offer", id: 3 },
      segment: [
        { kind: "tag", tag: 1, has: true },
        { kind: "progress", course: 2, from: 0, to: 1 },
        { kind: "offer", offer: 4, has: true },
        { kind: "signed-in", is: true },
      ],
    })
    expect(refs.map((r) => `${r.to}:${r.id}`)).toEqual(["offer:3", "tag:1", "course:2", "offer:4"])
  })
})
