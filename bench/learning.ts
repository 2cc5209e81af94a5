// What learners and the builder of courses wait for: ranges of a large video behind an admission, and a key in an outline of
// 500 lessons as it shows in Chromium.
import { fork } from "node:child_process"
import { open } from "node:fs/promises"
import { Agent, get } from "node:http"
import { join } from "node:path"
import { chromium } from "playwright-core"
import { ensureDebian } from "@/cli/debian"
import { startDemoSchool } from "@/cli/demo-school"
import { newRow } from "@/core/course/outline"
import { configFromEnvironment } from "@/server/config"
import { type Context, closeContext } from "@/server/context"
import { saveOutline } from "@/server/course/outline"
import { mediaLink } from "@/server/media/store"
import { openContext } from "@/server/open"
import { beginSession, sessionCookie } from "@/server/person/session"
import { type Line, median, quantile } from "./report"
import { timed } from "./yardstick"

const size = 1_000_000_000
const range = 4_000_000
const rounds = 15
const seconds = 2

export async function benchLearning(folder: string): Promise<Line[]> {
  ensureDebian("chromium")
  const school = await startDemoSchool(folder, 200)
  const s = openContext(configFromEnvironment(school.environment), "bench")
  try {
    return [await ranges(s, school.origin), ...(await builder(s, school.origin))]
  } finally {
    await closeContext(s)
    await school.stop()
  }
}

async function ranges(s: Context, origin: string): Promise<Line> {
  const stored = `${"ab".repeat(12)}.mp4`
  const path = join(s.config.mediaFolder, stored)
  const file = await open(path, "w")
  const block = Buffer.alloc(10_000_000, 7)
  for (let at = 0; at < size; at += block.length) await file.write(block)
  // On the disk, so that nothing of it is still being written while it is read.
  await file.sync()
  await file.close()
  await s.db.write(
    "INSERT INTO media (kind, type, name, stored, size, made_at) VALUES ('video', 'video/mp4', 'large.mp4', ?, ?, NOW())",
    [stored, size],
  )
  const bare = fork("bench/bare-file-server.ts", { execArgv: ["--import", "tsx"] })
  try {
    const port = await new Promise<number>((ready) => {
      bare.once("message", (p) => ready(p as number))
      bare.send({ path, size })
    })
    const ours = `${origin}${mediaLink(s.config, stored, Date.now())}`
    const theirs = `http://127.0.0.1:${port}/`
    const rate = { ours: [] as number[], bare: [] as number[] }
    for (let round = 0; round <= rounds; round++) {
      const [a, b] = [await megabytes(ours), await megabytes(theirs)]
      if (round > 0) {
        rate.ours.push(a)
        rate.bare.push(b)
      }
    }
    const [a, b] = [median(rate.ours), median(rate.bare)]
    return {
      what: "a 1 GB video in ranges of 4 MB, MB a second",
      ours: a.toFixed(0),
      against: b.toFixed(0),
      ratio: (a / b).toFixed(2),
      wanted: "at least 0.8",
    }
  } finally {
    bare.disconnect()
  }
}

/** Sixteen viewers, each somewhere else in it; MB a second. */
async function megabytes(url: string): Promise<number> {
  const agent = new Agent({ keepAlive: true, maxSockets: 16 })
  const end = performance.now() + seconds * 1000
  let bytes = 0
  let at = 0
  const viewer = async () => {
    while (performance.now() < end) {
      at = (at + 137_000_003) % (size - range)
      bytes += await fetchRange(url, at, agent)
    }
  }
  const began = performance.now()
  await Promise.all(Array.from({ length: 16 }, viewer))
  agent.destroy()
  return bytes / 1e6 / ((performance.now() - began) / 1000)
}

function fetchRange(url: string, from: number, agent: Agent): Promise<number> {
  return new Promise((done, failed) => {
    get(url, { agent, headers: { range: `bytes=${from}-${from + range - 1}` } }, (res) => {
      let n = 0
      if (res.statusCode !== 206) failed(new Error(`answered ${res.statusCode}`))
      res.on("data", (c: Buffer) => {
        n += c.length
      })
      res.on("end", () => (n === range ? done(n) : failed(new Error(`${n} bytes came`))))
    }).on("error", failed)
  })
}

async function builder(s: Context, origin: string): Promise<Line[]> {
  const course = (
    await s.db.write(
      "INSERT INTO course (slug, title, state, made_at, changed_at) VALUES ('long', 'Long', 'live', NOW(), NOW())",
    )
  ).id
  const rows = Array.from({ length: 500 }, (_, i) => ({
    ...newRow(`r${i}`, i % 25 ? "lesson" : "module", `Row ${i}`),
    live: true,
  }))
  await saveOutline(s, { course, rows, known: [] })
  const account = (await s.db.row<{ id: number }>("SELECT id FROM account LIMIT 1"))!.id
  const browser = await chromium.launch({
    executablePath: "/usr/bin/chromium",
    args: [
      "--no-sandbox",
      "--disable-gpu",
      "--disable-background-networking",
      "--disable-component-update",
      "--disable-sync",
    ],
  })
  try {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
    await context.addCookies([
      { name: sessionCookie(s.config, "studio"), value: await beginSession(s.db, "studio", account), url: origin },
    ])
    const page = await context.newPage()
    await page.goto(`${origin}/studio/courses/${course}`)
    const row = page.locator("ol input:not([type=checkbox])").nth(20)
    await row.waitFor()
    // From the key to the rows as they then stand, laid out: what is left is the screen's own wait for its next picture.
    await page.evaluate(`
      window.times = []
      let begin = 0
      addEventListener("keydown", () => { begin = performance.now() }, true)
      // What React draws at an event is drawn by the microtask after it.
      const drawn = () => queueMicrotask(() => queueMicrotask(() => {
        document.body.offsetHeight
        times.push(performance.now() - begin)
      }))
      addEventListener("input", drawn)
      addEventListener("keydown", (e) => { if (e.altKey && e.key !== "Alt") drawn() })`)
    const taken = async (keys: readonly string[]) => {
      await page.evaluate("times.splice(0)")
      for (const key of keys) {
        await page.keyboard.press(key)
        await page.waitForTimeout(120)
      }
      return page.evaluate<number[]>("times")
    }
    await row.click()
    await taken([..."warm"])
    const typed = await taken([..."and on it goes, letter by letter"])
    const moved = await taken(["Alt+ArrowDown", "Alt+ArrowUp", "Alt+ArrowDown", "Alt+ArrowUp", "Alt+ArrowDown"])
    const line = (what: string, of: readonly number[]): Line => ({
      what,
      against: `${median(of).toFixed(1)} ms in the middle`,
      ...timed(quantile(of, 0.95), 16, "loop"),
    })
    return [line("a letter typed among 500 rows", typed), line("a row moved by a key among 500", moved)]
  } finally {
    await browser.close()
  }
}
