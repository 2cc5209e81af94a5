// What a new funnel writes around a webinar: true whenever it comes, with the ends that the server keeps, and nothing promised that isn't there.
import { describe, expect, it } from "vitest"
import { chipsIn } from "../mail/chip"
import { offerMails, replayMails } from "./webinar-follow-up"
import { remindersOf } from "./webinar-reminder"

const told = {
  title: "Why <brine> goes cloudy & clear",
  promise: "See why",
  host: "Maren",
  prepare: "Have a jar ready.",
  deal: { coupon: 3, days: 3 },
  replayDays: 2,
}
const offer = { id: 4, name: "A “Year” in <Ferments>" }

describe("what is written before it", () => {
  it("comes a day, an hour and ten minutes before, and is left out for whoever is too late (common practice)", () => {
    const all = remindersOf(7, told)
    expect(all.map((m) => m.wait)).toEqual(
      [-1440, -60, -10].map((minutes) => ({
        for: "moment",
        moment: { of: "webinar-starts", id: 7 },
        minutes,
        late: "leave-out",
      })),
    )
    // Nothing in them is wrong on another day than the one before.
    expect(all.map((m) => m.subject + m.body).join()).not.toMatch(/\b(?:today|tomorrow|tonight)\b/i)
  })
})

describe("what is written after it", () => {
  it("offers it to those who were there, with the end of their price, and once more on the last day", () => {
    const [first, last] = offerMails(7, told, offer)
    expect(first!.wait).toEqual({ for: "span", minutes: 60 })
    expect(chipsIn(first!.body)).toEqual(["first-name", "price-4", "deal-7"])
    expect(last!.wait).toMatchObject({ moment: { of: "deal-ends", id: 7 }, late: "leave-out" })
    // Its end is at midnight where they are: fifteen hours before is that day.
    expect(last!.wait).toMatchObject({ minutes: -900 })
    expect(chipsIn(last!.body)).toContain("deal-7")
  })

  it("names no end where the price has none", () => {
    const all = offerMails(7, { ...told, deal: null }, offer)
    expect(all).toHaveLength(1)
    expect(chipsIn(all[0]!.body)).not.toContain("deal-7")
  })

  it("brings the replay to those who weren't, with its end, and once more on the last day; none where there is none", () => {
    const all = replayMails(7, told)
    expect(all.map((m) => chipsIn(m.body).includes("replay-7"))).toEqual([true, true])
    expect(all[1]!.wait).toMatchObject({ moment: { of: "replay-ends", id: 7 }, minutes: -900, late: "leave-out" })
    expect(replayMails(7, { ...told, replayDays: null })).toEqual([])
  })

  it("takes no markup from a title, and says nothing of a host who isn't named", () => {
    const all = [...remindersOf(7, told), ...offerMails(7, told, offer), ...replayMails(7, told)]
    for (const m of all) {
      expect(m.body).not.toMatch(/<(?:brine|Ferments)>/)
      expect(m.subject).not.toMatch(/[\r\n]/)
    }
    const nobody = [...remindersOf(7, { ...told, host: "" }), ...replayMails(7, { ...told, host: "" })]
    expect(nobody.map((m) => m.body).join()).not.toContain("<p></p>")
  })
})
