// Reads the card through the processor's frame, and has the sum worked out anew when the choice changes.
import { fillZone, ownZone } from "./clock"

/** What the frame of the card processor says. */
type FrameSays =
  | { readonly cards: "height"; readonly height: number }
  | { readonly cards: "enter" | "wrong" }
  | { readonly cards: "token"; readonly token: string }

function start(form: HTMLFormElement): void {
  const frame = document.getElementById("cards") as HTMLIFrameElement | null
  const sum = document.getElementById("sum")!
  const field = (name: string) => form.elements.namedItem(name) as HTMLInputElement
  let busy = false
  let sent = false

  try {
    fillZone(ownZone())
  } catch {}

  const allowPress = (may: boolean) => {
    for (const button of sum.querySelectorAll("button")) button.disabled = !may
  }

  addEventListener("message", (event) => {
    if (!frame || event.source !== frame.contentWindow || event.origin !== form.dataset.cards) return
    const says: FrameSays | { cards?: undefined } = event.data || {}
    if (says.cards === "height") frame.style.height = `${Math.min(900, says.height)}px`
    if (says.cards === "enter") form.requestSubmit()
    if (says.cards === "wrong") {
      busy = false
      allowPress(true)
      frame.scrollIntoView({ block: "center" })
    }
    if (says.cards === "token" && busy) {
      field("token").value = says.token
      sent = true
      form.submit()
    }
  })

  form.addEventListener("submit", (event) => {
    if ((event.submitter as HTMLButtonElement | null)?.name === "quote") {
      event.preventDefault()
      quote()
      return
    }
    if (sent || busy) {
      event.preventDefault()
      return
    }
    busy = true
    setTimeout(() => allowPress(false))
    if (field("paid").value && frame) {
      event.preventDefault()
      frame.contentWindow!.postMessage({ cards: "token" }, form.dataset.cards!)
    }
  })

  let turn = 0
  /** Only the answer to the latest choice is shown, and none while it is being paid. */
  const quote = async () => {
    const mine = ++turn
    const body = new URLSearchParams([...new FormData(form)] as [string, string][])
    body.set("quote", "1")
    try {
      const answer = await fetch(form.getAttribute("action")!, { method: "POST", body, headers: { "x-quote": "1" } })
      if (!answer.ok || mine !== turn || busy) return
      sum.innerHTML = await answer.text()
      for (const way of sum.querySelectorAll("template")) {
        const shown = form.querySelector(`[data-way="${way.dataset.way}"]:not(template)`)
        if (shown) shown.textContent = way.content.textContent
      }
      const card = document.getElementById("card")
      if (card) card.hidden = !field("paid").value
    } catch {}
  }
  form.addEventListener("change", quote)
  addEventListener("pageshow", (event) => {
    if (event.persisted) location.reload()
  })
}

const form = document.forms.namedItem("checkout")
if (form) start(form)
