// @vitest-environment happy-dom
// The room's program over the page that the core writes: in step, the offer, polls and what is said.
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest"
import { plainly, wear } from "@/core/look/look"
import { roomPage } from "@/core/page/room"

const view = {
  title: "Salt",
  host: "Ada",
  starts: Date.parse("2026-12-03T18:00:00Z"),
  zone: "Europe/Oslo",
  school: { name: "School", look: wear(plainly("kitchen-table")) },
  path: "/room/1.abc",
  chat: "all",
  phase: "running",
  plays: { url: "/media/a.mp4", type: "video/mp4" },
  captions: null,
  handout: null,
  replay: null,
} as const

/** What the page listens to: events are handed over by `tell`. */
class Events extends EventTarget {
  static last: Events
  onmessage: ((event: object) => void) | null = null
  constructor(readonly url: string) {
    super()
    Events.last = this
  }
}
const tell = (name: string, data: unknown) =>
  Events.last.dispatchEvent(Object.assign(new Event(name), { data: JSON.stringify(data) }))
const hear = (id: number, data: object) =>
  Events.last.onmessage!({ lastEventId: String(id), data: JSON.stringify(data) })

let sent: Record<string, string>[]
let answers: (fields: Record<string, string>) => { status: number; body?: unknown }
let reload: ReturnType<typeof vi.fn>

async function open(phase: "before" | "running" = "running"): Promise<void> {
  document.body.innerHTML = new DOMParser().parseFromString(
    roomPage({ ...view, phase }).html,
    "text/html",
  ).body.innerHTML
  const video = document.querySelector("video")
  if (video) {
    Object.defineProperty(video, "duration", { value: 3_600, configurable: true })
    video.play = vi.fn(async () => {})
  }
  await import("./room")
  await vi.advanceTimersByTimeAsync(0)
}

beforeEach(() => {
  vi.resetModules()
  vi.useFakeTimers()
  sessionStorage.clear()
  sent = []
  answers = () => ({ status: 200, body: { phase: "running", second: 600, offer: null } })
  reload = vi.fn()
  vi.spyOn(location, "reload").mockImplementation(reload as () => void)
  vi.stubGlobal("EventSource", Events)
  vi.stubGlobal("fetch", async (_: string, { body }: { body: URLSearchParams }) => {
    const fields = Object.fromEntries(body)
    sent.push(fields)
    const { status, body: says } = answers(fields)
    return { ok: status < 300, status, json: async () => says }
  })
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
  vi.restoreAllMocks()
})

describe("in step", () => {
  it("what plays is set right where it is further off than a second and a half, and left alone where it isn't", async () => {
    await open()
    const video = document.querySelector("video")!
    expect(video.currentTime).toBeCloseTo(600, 0)
    video.currentTime = 599
    await vi.advanceTimersByTimeAsync(1)
    expect(video.currentTime).toBe(599)
    video.currentTime = 500
    await vi.advanceTimersByTimeAsync(1_000)
    expect(video.currentTime).toBeCloseTo(601, 0)
  })

  it("beats every fifteen seconds, and says whether it has the offer", async () => {
    answers = () => ({ status: 200, body: { phase: "running", second: 600, offer: "<p>Yours</p>" } })
    await open()
    expect(sent).toEqual([{ beat: "1" }])
    expect(document.getElementById("offer")!.hidden).toBe(false)
    await vi.advanceTimersByTimeAsync(15_000)
    expect(sent[1]).toEqual({ beat: "1", have: "1" })
  })

  it("counts down, and looks again when it begins", async () => {
    answers = () => ({ status: 200, body: { phase: "before", inMs: 3_000 } })
    await open("before")
    await vi.advanceTimersByTimeAsync(1_000)
    expect(document.getElementById("count")!.textContent).toBe("00:02")
    answers = () => ({ status: 200, body: { phase: "running", second: 0, offer: null } })
    await vi.advanceTimersByTimeAsync(2_000)
    expect(reload).toHaveBeenCalled()
  })

  it.each([404, 409])(
    "loads the page anew when its seat is gone (%i), and not when the server is away (503)",
    async (gone) => {
      answers = () => ({ status: 503 })
      await open()
      expect(reload).not.toHaveBeenCalled()
      answers = () => ({ status: gone })
      await vi.advanceTimersByTimeAsync(15_000)
      expect(reload).toHaveBeenCalledOnce()
    },
  )
})

describe("a poll", () => {
  const poll = { id: 7, question: "Which salt?", answers: ["Sea", "<b>Rock</b>"], votes: [3, 1], closed: false }
  const buttons = () => [...document.querySelectorAll<HTMLButtonElement>("#poll7 button")]

  it("shows no votes before one's own, counts a changed one once, and takes answers as text", async () => {
    await open()
    tell("poll", poll)
    expect(document.querySelectorAll("#poll7 small")).toHaveLength(0)
    expect(buttons()[1]!.textContent).toBe("<b>Rock</b>")
    const says = () => [...document.querySelectorAll("#poll7 small")].map((x) => x.textContent)
    buttons()[1]!.click()
    await vi.advanceTimersByTimeAsync(0)
    expect(says()).toEqual(["3 of 5", "2 of 5"])
    buttons()[0]!.click()
    await vi.advanceTimersByTimeAsync(0)
    expect(says()).toEqual(["4 of 5", "1 of 5"])
    expect(sent.slice(1)).toEqual([
      { poll: "7", answer: "1" },
      { poll: "7", answer: "0" },
    ])
    expect(buttons().map((b) => b.getAttribute("aria-pressed"))).toEqual(["true", "false"])
  })

  it("stays as it was where a vote isn't taken; one that is closed shows everything and can't be pressed", async () => {
    await open()
    tell("poll", poll)
    answers = () => ({ status: 409 })
    buttons()[0]!.click()
    await vi.advanceTimersByTimeAsync(0)
    expect(document.querySelectorAll("#poll7 small")).toHaveLength(0)
    tell("poll", { ...poll, closed: true })
    expect(document.querySelectorAll("#poll7 small")).toHaveLength(2)
    expect(buttons().every((b) => b.disabled)).toBe(true)
  })

  it("knows what this seat has voted for, whichever comes first", async () => {
    await open()
    tell("poll", poll)
    tell("mine", { 7: 0 })
    expect(buttons()[0]!.getAttribute("aria-pressed")).toBe("true")
  })
})

describe("what is said", () => {
  it("is shown once, as text, with who said it", async () => {
    await open()
    const message = { name: "<i>Ben</i>", words: "<script>1</script>", mine: false, host: false, question: true }
    hear(1, message)
    hear(1, message)
    hear(2, { ...message, mine: true, question: false, words: "me" })
    expect([...document.querySelectorAll("#said li")].map((x) => x.textContent)).toEqual([
      "<i>Ben</i> asks: <script>1</script>",
      "You me",
    ])
    expect(document.querySelector("#said script")).toBeNull()
  })

  it("stays in the field where it isn't taken, and outlives a reload", async () => {
    await open()
    const form = document.getElementById("say") as HTMLFormElement
    form.words.value = "Hello"
    form.words.oninput()
    answers = () => ({ status: 422, body: { refused: "Not so fast." } })
    form.onsubmit!(new Event("submit", { cancelable: true }) as SubmitEvent)
    await vi.advanceTimersByTimeAsync(0)
    expect(document.getElementById("refused")!.textContent).toBe("Not so fast.")
    expect([form.words.value, sessionStorage.say]).toEqual(["Hello", "Hello"])
    answers = () => ({ status: 200, body: {} })
    form.onsubmit!(new Event("submit", { cancelable: true }) as SubmitEvent)
    await vi.advanceTimersByTimeAsync(0)
    expect([form.words.value, sessionStorage.say, document.getElementById("refused")!.textContent]).toEqual([
      "",
      "",
      "",
    ])
  })
})
