// Films in narrower widths, made by a program that does what ffmpeg does: it reads, says how far it is, and writes.
import { chmodSync, existsSync, writeFileSync } from "node:fs"
import { mkdir } from "node:fs/promises"
import { createServer, type Server } from "node:http"
import type { AddressInfo } from "node:net"
import { join } from "node:path"
import { afterAll, beforeAll, expect, test } from "vitest"
import { serveMedia } from "@/front/files"
import { makesFilms, narrowFilm } from "@/server/media/film"
import { narrowedOf } from "@/server/media/media-view"
import { replaceMedia } from "@/server/media/place"
import { mediaLink } from "@/server/media/store"
import { type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let server: Server
let origin = ""

/** A program in ffmpeg's stead. */
function program(name: string, does: string): string {
  const path = join(t.s.config.dataFolder, name)
  writeFileSync(path, `#!/usr/bin/env node\nconst to = process.argv.at(-1)\nif (to !== "-version") {${does}}\n`)
  chmodSync(path, 0o755)
  return path
}

const writes = `
  const from = process.argv[process.argv.indexOf("-i") + 1]
  const width = /min\\(iw\\\\,(\\d+)/.exec(process.argv.join(" "))[1]
  console.log("out_time=00:00:01")
  require("fs").writeFileSync(to, "y".repeat(width / 2))`
const hangs = `console.log("out_time=00:00:01"); setInterval(() => console.log("out_time=00:00:01"), 20)`

let n = 0
async function film(): Promise<{ id: number; stored: string }> {
  const stored = `${String(++n).padStart(24, "0")}.mp4`
  await mkdir(t.s.config.mediaFolder, { recursive: true })
  writeFileSync(join(t.s.config.mediaFolder, stored), "x".repeat(1000))
  const made = await t.s.db.insert("media", {
    kind: "video",
    type: "video/mp4",
    name: "film.mp4",
    stored,
    size: 1000,
    made_at: new Date(t.at()),
  })
  return { id: made.id, stored }
}

const by = (ffmpeg: string) => ({ ...t.s, config: { ...t.s.config, ffmpeg } })
const narrowed = (id: number) => narrowedOf(t.s.db, id)
const asked = (path: string) => fetch(origin + path, { redirect: "manual" })

beforeAll(async () => {
  t = await testSchool("films")
  await mkdir(t.s.config.dataFolder, { recursive: true })
  server = createServer(async (req, res) => {
    const url = new URL(req.url!, origin)
    const name = url.pathname.slice("/media/".length)
    if (!(await serveMedia(t.s, req, res, name, url.searchParams.get("key") ?? ""))) res.writeHead(404).end()
  })
  await new Promise<void>((ready) => server.listen(0, "127.0.0.1", () => ready()))
  origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
})
afterAll(async () => {
  server.close()
  await t.end()
})

test("a film is made in narrower widths, and served in the one that is asked for; until then, as it came", async () => {
  const { id, stored } = await film()
  const link = mediaLink(t.s.config, stored, Date.now())
  const narrow = link.replace(".mp4", "-640.mp4")
  const before = await asked(narrow)
  expect([before.status, before.headers.get("location"), before.headers.get("cache-control")]).toEqual([
    302,
    link,
    "no-store",
  ])
  expect((await asked(narrow.split("?")[0]!)).status).toBe(404)
  expect(await narrowFilm(by(program("writes", writes)))).toBe(true)
  expect(await narrowed(id)).toBe("640,1280")
  expect(await (await asked(narrow)).text()).toBe("y".repeat(320))
  expect((await asked(link.replace(".mp4", "-1920.mp4"))).status).toBe(404)
  expect((await asked(link)).headers.get("content-length")).toBe("1000")
  expect(await narrowFilm(by(program("writes", writes)))).toBe(false)
})

test("one that hangs, that fails, or that would be larger stays as it came, and isn't tried again", async () => {
  const larger = `require("fs").writeFileSync(to, "y".repeat(2000))`
  for (const [name, does] of [
    ["hangs", hangs],
    ["fails", "process.exit(1)"],
    ["larger", larger],
  ] as const) {
    const { id, stored } = await film()
    expect(await narrowFilm(by(program(name, does)), { still: 1500 }), name).toBe(true)
    expect(await narrowed(id), name).toBe("")
    const path = join(t.s.config.mediaFolder, stored)
    expect([existsSync(`${path}-640.mp4`), existsSync(`${path}-640.mp4.part`)]).toEqual([false, false])
    expect((await asked(mediaLink(t.s.config, stored, Date.now()).replace(".mp4", "-640.mp4"))).status).toBe(302)
  }
})

test("one that is narrow itself has no second form that is no wider than the first", async () => {
  const { id } = await film()
  await narrowFilm(by(program("same", `require("fs").writeFileSync(to, "y".repeat(500))`)))
  expect(await narrowed(id)).toBe("640")
})

test("a worker that ends lets go of it for the next, and two don't make the same one", async () => {
  const { id } = await film()
  const stop = new AbortController()
  const first = narrowFilm(by(program("hangs", hangs)), { stop: stop.signal })
  await expect
    .poll(async () => (await t.s.db.row("SELECT 1 FROM media WHERE narrowing_until > NOW(3)")) !== undefined)
    .toBe(true)
  expect(await narrowFilm(by(program("writes", writes)))).toBe(false)
  stop.abort()
  await first
  expect(await narrowed(id)).toBeNull()
  expect(await narrowFilm(by(program("writes", writes)))).toBe(true)
  expect(await narrowed(id)).toBe("640,1280")
})

test("without the program films wait, and what is put in a film's stead brings its widths along", async () => {
  const [old, fresh] = [await film(), await film()]
  expect(await makesFilms(by("/nowhere/ffmpeg"))).toBe(false)
  expect(await narrowFilm(by("/nowhere/ffmpeg"))).toBe(false)
  expect(await narrowed(old.id)).toBeNull()
  await narrowFilm(by(program("fails", "process.exit(1)")))
  await narrowFilm(by(program("writes", writes)))
  expect(await replaceMedia(t.s, old.id, fresh.id)).toEqual({ ok: true })
  expect([await narrowed(old.id), await narrowed(fresh.id)]).toEqual(["640,1280", ""])
})
