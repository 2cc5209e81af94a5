// The card fields of the processor's stand-in: they talk to the page around them by messages; asked for a token they give one, or say
// what is wrong.
const byId = (id: string) => document.getElementById(id)!
const input = (id: string) => byId(id) as HTMLInputElement
const say = (message: object) => parent.postMessage(message, "*")
const grow = () => say({ cards: "height", height: document.documentElement.scrollHeight })

function wrong(text: string): void {
  byId("wrong").textContent = text
  byId("wrong").hidden = !text
  grow()
}

const digits = (field: HTMLInputElement, most: number) => field.value.replace(/\D/g, "").slice(0, most)
const number = input("number")
const expires = input("expires")
const code = input("code")

number.oninput = () => {
  number.value = digits(number, 19).replace(/(.{4})(?=.)/g, "$1 ")
}
expires.oninput = () => {
  const typed = digits(expires, 4)
  expires.value = typed.length > 2 ? `${typed.slice(0, 2)}/${typed.slice(2)}` : typed
}
for (const card of document.querySelectorAll<HTMLElement>("[data-number]"))
  card.onclick = () => {
    number.value = card.dataset.number!.replace(/(.{4})(?=.)/g, "$1 ")
    expires.value = "12/39"
    code.value = "123"
    wrong("")
  }
document.querySelector("details")!.ontoggle = grow
for (const field of [number, expires, code])
  field.onkeydown = (event) => {
    if (event.key === "Enter") say({ cards: "enter" })
  }

addEventListener("message", async (event) => {
  if (event.source !== parent || event.data?.cards !== "token") return
  try {
    const answer = await fetch("/tokens", {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ number: number.value, expires: expires.value, code: code.value }),
    })
    const token: { token?: string; error: string } = await answer.json()
    wrong(answer.ok ? "" : token.error)
    if (!answer.ok) number.focus()
    say(answer.ok ? { cards: "token", token: token.token } : { cards: "wrong" })
  } catch {
    wrong("The card processor doesn’t answer. Nothing was charged; please try again.")
    say({ cards: "wrong" })
  }
})
grow()

export {}
