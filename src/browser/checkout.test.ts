// @vitest-environment happy-dom
// The checkout's program: one payment for one press, a token before the form goes, and the sum of the latest choice.
import { beforeEach, describe, expect, it, vi } from "vitest"

const cards = "https://cards.example"
const fields = (paid: string) =>
  `<form id="checkout" name="checkout" action="/buy" data-cards="${cards}"><input name="terms" value="1"><span data-way="terms1">old</span><input name="zone"><input name="token"><div id="card"><div id="cards"></div></div><section id="sum"><input name="paid" value="${paid}"><button>Pay</button></section></form>`

let form: HTMLFormElement
let gone: number
let asked: unknown[]

/** Listeners on the window outlive a test: those of the program are taken away after it. */
const listening: [string, EventListener][] = []

beforeEach(async () => {
  for (const [name, f] of listening.splice(0)) removeEventListener(name, f)
  vi.resetModules()
})

async function open(paid = "1"): Promise<void> {
  document.body.innerHTML = fields(paid)
  form = document.forms.namedItem("checkout")!
  gone = 0
  asked = []
  form.submit = () => {
    gone++
  }
  const frame = document.getElementById("cards") as HTMLElement
  Object.defineProperty(frame, "contentWindow", {
    value: { postMessage: (m: unknown, to: string) => asked.push([m, to]) },
    configurable: true,
  })
  const real = addEventListener
  const add = vi.spyOn(window, "addEventListener").mockImplementation(((name: string, f: EventListener) => {
    listening.push([name, f])
    real(name, f)
  }) as typeof addEventListener)
  await import("./checkout")
  add.mockRestore()
}

const frameSays = (data: unknown, origin = cards, from?: unknown) => {
  const source = from ?? (document.getElementById("cards") as HTMLIFrameElement).contentWindow
  window.dispatchEvent(Object.assign(new Event("message"), { data, origin, source }))
}
const press = () => {
  const event = Object.assign(new Event("submit", { cancelable: true }), { submitter: form.querySelector("button") })
  form.dispatchEvent(event)
  return event.defaultPrevented
}

describe("paying", () => {
  it("asks the processor's frame for a token, and sends the form with it, once", async () => {
    await open()
    expect(press()).toBe(true)
    expect(asked).toEqual([[{ cards: "token" }, cards]])
    expect(press()).toBe(true)
    expect(asked).toHaveLength(1)
    frameSays({ cards: "token", token: "t1" })
    expect([gone, form.token.value]).toEqual([1, "t1"])
    expect(press()).toBe(true)
  })

  it("goes without a token where nothing is paid", async () => {
    await open("")
    expect(press()).toBe(false)
    expect(asked).toEqual([])
  })

  it("believes no other frame, no other origin, and no token that wasn't asked for", async () => {
    await open()
    frameSays({ cards: "token", token: "early" })
    press()
    frameSays({ cards: "token", token: "evil" }, "https://evil.example")
    frameSays({ cards: "token", token: "evil" }, cards, {})
    expect([gone, form.token.value]).toEqual([0, ""])
  })

  it("may be pressed again when the card was wrong", async () => {
    await open()
    document.getElementById("cards")!.scrollIntoView = () => {}
    press()
    await new Promise((done) => setTimeout(done))
    expect(form.querySelector("button")!.disabled).toBe(true)
    frameSays({ cards: "wrong" })
    expect(form.querySelector("button")!.disabled).toBe(false)
    press()
    expect(asked).toHaveLength(2)
  })
})

describe("the sum", () => {
  const sum = (n: number, paid = "1") =>
    `<input name="paid" value="${paid}"><b>${n}</b><template data-way="terms1">way ${n}</template>`

  it("is of the latest choice, however late an earlier answer comes, and each way says its price", async () => {
    await open()
    const answers: ((text: string) => void)[] = []
    vi.stubGlobal("fetch", (to: string, { body }: { body: URLSearchParams }) => {
      expect([to, body.get("quote"), body.get("terms")]).toEqual(["/buy", "1", "1"])
      return new Promise((done) => answers.push((text) => done({ ok: true, text: async () => text })))
    })
    form.dispatchEvent(new Event("change"))
    form.dispatchEvent(new Event("change"))
    answers[1]!(sum(2, ""))
    await vi.waitFor(() => expect(document.querySelector("#sum b")?.textContent).toBe("2"))
    answers[0]!(sum(1))
    await new Promise((done) => setTimeout(done, 5))
    expect(document.querySelector("#sum b")!.textContent).toBe("2")
    expect(document.querySelector("[data-way]:not(template)")!.textContent).toBe("way 2")
    // Nothing is paid now: no card is asked for.
    expect(document.getElementById("card")!.hidden).toBe(true)
    vi.unstubAllGlobals()
  })
})
