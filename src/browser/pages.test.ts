// @vitest-environment happy-dom
// The small programs of pages, run over the HTML that the core writes for them.
import { beforeEach, expect, it, vi } from "vitest"
import { html } from "@/core/html"
import { datesHtml } from "@/core/page/dates"
import { type ReplayView, replayHtml } from "@/core/page/replay"

beforeEach(() => {
  vi.resetModules()
  vi.useRealTimers()
})

const here = (timeZone: string) =>
  vi.spyOn(Intl.DateTimeFormat.prototype, "resolvedOptions").mockReturnValue({
    ...new Intl.DateTimeFormat().resolvedOptions(),
    timeZone,
  })

it("once: a second press of a button finds it disabled, the first goes through", async () => {
  document.body.innerHTML = `<form><button>Yes</button></form>`
  await import("./once")
  const form = document.forms[0]!
  form.onsubmit!({} as SubmitEvent)
  expect(form.querySelector("button")!.disabled).toBe(false)
  await new Promise((done) => setTimeout(done))
  expect(form.querySelector("button")!.disabled).toBe(true)
})

it("zone: forms that ask for it are told, others stay as they are", async () => {
  document.body.innerHTML = `<form><input name="zone"></form><form><input name="email" value="a@b.example"></form>`
  const clock = here("Asia/Kolkata")
  await import("./zone")
  clock.mockRestore()
  expect(document.querySelector<HTMLInputElement>("[name=zone]")!.value).toBe("Asia/Kolkata")
  expect(document.querySelector<HTMLInputElement>("[name=email]")!.value).toBe("a@b.example")
})

vi.stubGlobal("Option", function option(text: string) {
  return Object.assign(document.createElement("option"), { textContent: text })
})

const at = Date.parse("2026-12-03T18:00:00Z")
const dates = (asks: boolean) =>
  `<form>${datesHtml({ dates: [{ value: "1", at, left: null }], chosen: null, zone: "Europe/Oslo", asks, replayDays: 3 })}<input name="zone"></form>`

it("dates: every instant stands in the visitor's zone, and in another as they choose", async () => {
  document.body.innerHTML = dates(false)
  const clock = here("Asia/Tokyo")
  await import("./dates")
  clock.mockRestore()
  const time = document.querySelector("time")!
  // 18:00 UTC is 03:00 of the next day in Tokyo (+9), 13:00 in New York (−5 in December).
  expect(time.textContent).toMatch(/Friday.*03:00/)
  const choice = document.querySelector<HTMLSelectElement>("#tz")!
  expect(choice.disabled).toBe(false)
  choice.value = "America/New_York"
  choice.onchange!({} as Event)
  expect(time.textContent).toMatch(/Thursday.*13:00/)
  expect(document.querySelector<HTMLInputElement>("[name=zone]")!.value).toBe("America/New_York")
})

it("dates: those that depend on the zone are asked for with it, once", async () => {
  document.body.innerHTML = dates(true)
  const replace = vi.spyOn(location, "replace").mockImplementation(() => {})
  const clock = here("Asia/Tokyo")
  await import("./dates")
  expect(String(replace.mock.calls[0]![0])).toContain("zone=Asia%2FTokyo")
  clock.mockRestore()
  replace.mockRestore()
})

const view: ReplayView = {
  is: "there",
  until: "Sunday",
  plays: { url: "/media/a.mp4", type: "video/mp4" },
  captions: null,
  chapters: [{ at: 90, title: "Salt" }],
  handout: null,
  offer: { html: html`<p>Yours</p>`, at: 2_400, part: 2 / 3 },
}

/** A film of so many seconds, at one of them. */
function film(duration: number, second: number): void {
  const video = document.querySelector("video")!
  Object.defineProperty(video, "duration", { value: duration, configurable: true })
  video.currentTime = second
  video.ontimeupdate!({} as Event)
}

it("replay: the offer is shown from its second on, and by its share where what plays is shorter", async () => {
  for (const [duration, before, after] of [
    [3_600, 2_399, 2_400],
    [900, 599, 600],
  ] as const) {
    vi.resetModules()
    document.body.innerHTML = replayHtml(view).text
    await import("./replay")
    const offer = document.getElementById("offer")!
    film(duration, before)
    expect(offer.hidden).toBe(true)
    film(duration, after)
    expect(offer.hidden).toBe(false)
  }
})

it("a chapter is jumped to in the film above it, and played", async () => {
  document.body.innerHTML = replayHtml(view).text
  await import("./chapters")
  const video = document.querySelector("video")!
  const play = vi.spyOn(video, "play").mockResolvedValue()
  document.querySelector<HTMLElement>(".chapters a")!.click()
  expect(video.currentTime).toBe(90)
  expect(play).toHaveBeenCalled()
})
