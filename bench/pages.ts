// A published page through the front server, compressed, with its headers and counting, against a bare Node server that
// sends the same bytes; and, for the record, through a Next route handler.
import { fork } from "node:child_process"
import { Agent, get, type IncomingMessage } from "node:http"
import autocannon from "autocannon"
import { startDemoSchool } from "@/cli/demo-school"
import { type Line, median, quantile } from "./report"
import { timed } from "./yardstick"

/** Who says nothing of themselves is taken for a program. */
const someBrowser = "Mozilla/5.0 (X11; Linux x86_64; rv:128.0) Gecko/20100101 Firefox/128.0"

const rounds = 5
const seconds = 4

export async function benchPages(folder: string): Promise<Line[]> {
  const school = await startDemoSchool(folder, 200)
  const bare = fork("bench/bare-server.ts", { execArgv: ["--import", "tsx"] })
  try {
    const page = await fetchRaw(`${school.origin}/first-crock`)
    const headers = Object.fromEntries(
      Object.entries(page.headers).filter(([k]) => !["date", "connection", "keep-alive"].includes(k)),
    )
    const port = await new Promise<number>((ready) => {
      bare.once("message", (p) => ready(p as number))
      bare.send({ body: page.body.toString("base64"), headers })
    })
    const targets = {
      ours: `${school.origin}/first-crock`,
      bare: `http://127.0.0.1:${port}/`,
      next: `${school.origin}/standins/page`,
    }
    const rate = await ratesOf(targets)
    const times = await openLoop(targets.ours, 200, 15)
    const [ours, against, next] = [median(rate.ours), median(rate.bare), median(rate.next)]
    return [
      {
        what: "requests a second, compressed and counted",
        ours: ours.toFixed(0),
        against: against.toFixed(0),
        ratio: (ours / against).toFixed(2),
        wanted: "at least 0.5",
      },
      {
        what: "the same through a Next route handler, for the record",
        ours: next.toFixed(0),
        against: against.toFixed(0),
        ratio: (next / against).toFixed(3),
        wanted: "nothing",
      },
      {
        what: "95th percentile at 200 a second, open loop",
        ...timed(quantile(times, 0.95), 20, "loop"),
      },
      { what: "HTML and CSS, compressed", ours: `${(page.body.length / 1024).toFixed(1)} KB`, wanted: "at most 14 KB" },
    ]
  } finally {
    bare.disconnect()
    await school.stop()
  }
}

/** Requests a second of each, in rounds that alternate between them; the first round only warms up. */
export async function ratesOf<Name extends string>(targets: Record<Name, string>): Promise<Record<Name, number[]>> {
  const names = Object.keys(targets) as Name[]
  const rate = Object.fromEntries(names.map((n) => [n, [] as number[]])) as Record<Name, number[]>
  for (let round = 0; round <= rounds; round++)
    for (const name of names) {
      const done = await autocannon({
        url: targets[name],
        connections: 32,
        duration: round === 0 ? 2 : seconds,
        headers: { "accept-encoding": "gzip", "user-agent": someBrowser },
      })
      if (done.non2xx || done.errors)
        throw new Error(`${name}: ${done.non2xx} answers that were no page, ${done.errors} errors`)
      if (round > 0) rate[name].push(done.requests.average)
    }
  return rate
}

/** Requests at fixed moments, whether the ones before have been answered or not; times are from the moment they were due. */
export async function openLoop(url: string, perSecond: number, seconds: number): Promise<number[]> {
  const agent = new Agent({ keepAlive: true, maxSockets: 64 })
  const times: number[] = []
  const start = performance.now() + 50
  await Promise.all(
    Array.from({ length: perSecond * seconds }, async (_, i) => {
      const due = start + (i * 1000) / perSecond
      await new Promise((r) => setTimeout(r, due - performance.now()))
      await fetchRaw(url, agent)
      times.push(performance.now() - due)
    }),
  )
  agent.destroy()
  return times
}

export function fetchRaw(url: string, agent?: Agent): Promise<{ headers: IncomingMessage["headers"]; body: Buffer }> {
  return new Promise((done, failed) => {
    get(url, { agent, headers: { "accept-encoding": "gzip", "user-agent": someBrowser } }, (res) => {
      const chunks: Buffer[] = []
      res.on("data", (c) => chunks.push(c))
      res.on("end", () => done({ headers: res.headers, body: Buffer.concat(chunks) }))
    }).on("error", failed)
  })
}
