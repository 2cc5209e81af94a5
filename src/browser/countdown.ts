// What is left until the end of an offer, by the server's clock: where that can't be asked, the end stands there as a day.
const shown = document.querySelectorAll<HTMLElement>("[data-ends]")

const two = (n: number) => String(n).padStart(2, "0")

/** 3 d 04:05:06; null once it is over. */
function left(ms: number): string | null {
  if (ms <= 0) return null
  const s = Math.floor(ms / 1000)
  const days = Math.floor(s / 86_400)
  return `${days ? `${days} d ` : ""}${two(Math.floor(s / 3600) % 24)}:${two(Math.floor(s / 60) % 60)}:${two(s % 60)}`
}

async function count(): Promise<void> {
  const answer = await fetch("/healthz", { method: "HEAD" })
  const skew = Number(answer.headers.get("now")) - Date.now()
  if (!answer.headers.get("now")) return
  const tick = () => {
    for (const e of shown) {
      const says = left(Number(e.dataset.ends) - Date.now() - skew)
      const clock = e.querySelector("b")
      if (!clock) continue
      clock.hidden = says === null
      clock.textContent = says
      if (says === null) e.hidden = true
    }
  }
  tick()
  setInterval(tick, 1000)
}

if (shown.length) count().catch(() => {})

export {}
