import { describe, expect, it } from "vitest"
import { cityOf } from "../words/moment"
import { type MailWay, waySays } from "./way"

const at = (iso: string) => Date.parse(iso)
const plain: MailWay = {
  of: "an e-mail of “Mornings”",
  state: "sent",
  wanted: at("2026-11-25T04:10:00Z"),
  due: at("2026-11-26T12:30:00Z"),
  sent: at("2026-11-26T12:30:02Z"),
  holds: [],
  paced: false,
  tries: 1,
  trouble: null,
  opened: null,
  clicked: null,
  bounced: null,
  complained: null,
  left: null,
}

describe("the way of an e-mail", () => {
  it("says what held it, in its reader's time", () => {
    const holds: MailWay["holds"] = [
      { from: at("2026-11-25T04:10:00Z"), until: at("2026-11-25T12:30:00Z"), why: "night" },
      { from: at("2026-11-25T12:30:00Z"), until: at("2026-11-26T05:00:00Z"), why: "day-full" },
    ]
    expect(waySays({ ...plain, holds }, "America/Lima")).toEqual([
      "It is an e-mail of “Mornings”, and was due on Tuesday 24 November, 23:10 (Lima).",
      "Held from Tuesday 24 November, 23:10 to Wednesday 25 November, 07:30, because those hours are left quiet in Lima.",
      "Held from Wednesday 25 November, 07:30 to Thursday 26 November, 00:00, because what one person may get on a day was reached on Wednesday.",
      "Sent on Thursday 26 November, 07:30.",
    ])
  })
  it.each([
    ["due", "It waits for its turn: no more go out at once than the sending rate allows."],
    ["sent", "It waited for its turn: no more go out at once than the sending rate allows."],
  ] as const)("says of one that is %s that the rate put it off", (state, says) =>
    expect(waySays({ ...plain, state, paced: true }, "UTC").at(-2)).toBe(says),
  )
  it.each<[Partial<MailWay>, string]>([
    [{ state: "due" }, "It goes on Thursday 26 November, 12:30."],
    [{ state: "sending" }, "It is being handed over just now."],
    [
      { state: "unsure" },
      "It may or may not have gone: the process was stopped while it was handed over. It is not sent again.",
    ],
    [{ state: "rejected", trouble: "550 no" }, "It was refused for good: 550 no."],
    [{ state: "cancelled", trouble: "left out: too late" }, "It does not go: left out: too late."],
    [
      { state: "held", holds: [{ from: plain.wanted, until: null, why: "paused-all" }] },
      "Held since Wednesday 25 November, 04:10, because everything was held.",
    ],
    [{ opened: plain.due }, "Opened on Thursday 26 November, 12:30, by its reader or by a machine."],
    [{ bounced: { at: plain.due, says: "550 gone" } }, "It came back on Thursday 26 November, 12:30: 550 gone."],
    [{ left: plain.due }, "Its reader unsubscribed by it on Thursday 26 November, 12:30."],
  ])("%o", (m, last) => expect(waySays({ ...plain, ...m }, "UTC").at(-1)).toBe(last))
  it("names a zone by its city", () => {
    expect([cityOf("America/Argentina/Buenos_Aires"), cityOf("UTC")]).toEqual(["Buenos Aires", "UTC"])
  })
})
