// The page of a webinar's room: keeps in step with the server's clock, shows what it leads to, what is asked and what is said.
import type { Beat, RoomSays } from "@/core/page/room"
import { beatEvery } from "@/core/webinar/attendance"
import { showTimes } from "./clock"

/** Further apart than this from where it should be, in seconds, what plays is set right. */
const slack = 1.5

type Poll = {
  readonly id: number
  readonly question: string
  readonly answers: readonly string[]
  readonly votes: number[]
  readonly closed: boolean
}
type Said = {
  readonly name: string
  readonly words: string
  readonly mine: boolean
  readonly host: boolean
  readonly question: boolean
}

const byId = <E extends HTMLElement>(id: string) => document.getElementById(id) as E | null
const make = <N extends keyof HTMLElementTagNameMap>(name: N, text = "") =>
  Object.assign(document.createElement(name), { textContent: text })

const main = document.querySelector("main")!
const path = main.dataset.path!
const says: RoomSays = JSON.parse(main.dataset.says!)
const video = document.querySelector("video")
const count = byId("count")
const offer = byId("offer")!
const sound = byId("sound")
const polls = byId("polls")!

const send = (fields: Record<string, string>) => fetch(path, { method: "POST", body: new URLSearchParams(fields) })

/** Where the room stood at the last beat, and when that was here. `base`: seconds until it begins, or since it began. */
let phase = ""
let at = 0
let base = 0
const since = () => (performance.now() - at) / 1000

function keepInStep(): void {
  if (!video || phase !== "running") return
  const second = base + since()
  const there = video.duration ? second % video.duration : second
  if (Math.abs(video.currentTime - there) > slack) video.currentTime = there
  // A browser that plays nothing aloud before a press plays it in silence.
  if (video.paused)
    video.play().catch(() => {
      video.muted = true
      sound!.hidden = false
      video.play().catch(() => {})
    })
}

async function beat(): Promise<void> {
  try {
    const answer = await send({ beat: "1", ...(offer.innerHTML ? { have: "1" } : {}) })
    if (!answer.ok) {
      if (answer.status === 409 || answer.status === 404) location.reload()
      return
    }
    const now: Beat = await answer.json()
    const before = phase
    at = performance.now()
    phase = now.phase
    base = now.phase === "before" ? now.inMs / 1000 : now.phase === "running" ? now.second : 0
    if (phase === "over" || (before && before !== phase)) return location.reload()
    if (now.phase === "running" && now.offer) {
      offer.innerHTML = now.offer
      offer.hidden = false
    }
    keepInStep()
  } catch {}
}

const two = (n: number) => String(Math.floor(n)).padStart(2, "0")
setInterval(beat, beatEvery)
setInterval(() => {
  if (phase !== "before") return keepInStep()
  const left = Math.max(0, Math.ceil(base - since()))
  count!.textContent = `${left >= 3600 ? `${Math.floor(left / 3600)}:` : ""}${two((left / 60) % 60)}:${two(left % 60)}`
  if (!left) beat()
}, 1000)
document.addEventListener("visibilitychange", () => document.hidden || beat())
if (sound)
  sound.onclick = () => {
    video!.muted = false
    sound.hidden = true
    video!.play()
  }
video?.addEventListener("error", () => setTimeout(() => video.load(), 3000), true)
showTimes()

/** What this seat has voted for, and each poll as it stands. */
const mine: Record<number, number> = {}
const known: Record<number, Poll> = {}

function draw(poll: Poll): void {
  known[poll.id] = poll
  const my = mine[poll.id]
  const set = Object.assign(make("fieldset"), { id: `poll${poll.id}` })
  set.append(make("legend", poll.question))
  const all = poll.votes.reduce((sum, n) => sum + n, 0)
  poll.answers.forEach((answer, i) => {
    const button = Object.assign(make("button", answer), { type: "button", dir: "auto", disabled: poll.closed })
    button.setAttribute("aria-pressed", String(my === i))
    button.onclick = async () => {
      const done = await send({ poll: String(poll.id), answer: String(i) }).catch(() => null)
      if (!done?.ok) return
      const before = mine[poll.id]
      if (before !== i) {
        if (before !== undefined) poll.votes[before]!--
        poll.votes[i]!++
      }
      mine[poll.id] = i
      draw(poll)
      byId(`poll${poll.id}`)!.querySelectorAll("button")[i]!.focus()
    }
    set.append(button)
    if (my === undefined && !poll.closed) return
    const bar = make("i")
    bar.style.width = `${(100 * poll.votes[i]!) / Math.max(1, all)}%`
    set.append(bar, make("small", `${poll.votes[i]}${says.ofVotes}${all}`))
  })
  const old = byId(set.id)
  if (old) old.replaceWith(set)
  else polls.prepend(set)
  polls.hidden = false
}

const events = new EventSource(`${path}/live`)
events.addEventListener("mine", (event) => {
  Object.assign(mine, JSON.parse(event.data))
  Object.values(known).forEach(draw)
})
events.addEventListener("poll", (event) => draw(JSON.parse(event.data)))
events.addEventListener("turn", () => beat())

function talk(form: HTMLFormElement): void {
  const list = byId("said")!
  const refused = byId("refused")!
  const typed = form.elements.namedItem("words") as HTMLInputElement
  const question = form.elements.namedItem("question") as HTMLInputElement
  // What was being written outlives a reload.
  typed.value = sessionStorage.say || ""
  typed.oninput = () => {
    sessionStorage.say = typed.value
  }
  const seen = new Set<string>()
  events.onmessage = (event) => {
    // A message that came before is not shown again.
    if (seen.has(event.lastEventId)) return
    seen.add(event.lastEventId)
    const said: Said = JSON.parse(event.data)
    const item = make("li")
    const name = make("strong", said.mine ? says.you : said.name || says.somebody)
    const text = make("span", ` ${said.words}`)
    name.dir = text.dir = "auto"
    if (said.host) item.className = "host"
    if (said.question) name.textContent += ` ${said.mine ? says.ask : says.asks}`
    item.append(name, text)
    list.append(item)
    const log = list.parentElement!
    log.scrollTop = log.scrollHeight
  }
  form.onsubmit = async (event) => {
    event.preventDefault()
    refused.textContent = ""
    const answer = await send({ say: typed.value, ...(question.checked ? { question: "1" } : {}) }).catch(() => null)
    if (answer?.ok) {
      typed.value = sessionStorage.say = ""
      question.checked = false
    } else refused.textContent = (await answer?.json().catch(() => null))?.refused || says.notSent
    typed.focus()
  }
}

const form = byId<HTMLFormElement>("say")
if (form) talk(form)
beat()
