// Large uploads through the front by the protocol's own client: cut off, taken up again by another server, made once, and nobody else's.
import { createHash, randomBytes } from "node:crypto"
import { readdir, readFile } from "node:fs/promises"
import { FileStore } from "@tus/file-store"
import { Upload } from "tus-js-client"
import { afterAll, beforeAll, expect, test, vi } from "vitest"
import { type FrontServer, frontServer } from "@/front/server"
import { uploadsFolder } from "@/server/media/store"
import { beginSession, sessionCookie } from "@/server/person/session"
import { openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let web: FrontServer
let origin = ""
let cookie = ""

async function start(port: number) {
  web = frontServer(t.s, async (_, res) => void res.end("next"))
  await web.front.live.refresh()
  await new Promise<void>((r) => web.server.listen(port, "127.0.0.1", () => r()))
  return (web.server.address() as { port: number }).port
}

beforeAll(async () => {
  t = await testSchool("resumable")
  await openSchool(t)
  cookie = `${sessionCookie(t.s.config, "studio")}=${await beginSession(t.s.db, "studio", 1)}`
  origin = `http://127.0.0.1:${await start(0)}`
})
afterAll(async () => {
  await web.close()
  await t.end()
})

/** An MP4 by its first bytes, and noise. */
const film = (bytes: number) =>
  Buffer.concat([Buffer.from([0, 0, 0, 24]), Buffer.from("ftypisom\0\0\x02\0isomiso2"), randomBytes(bytes)])
const digest = (b: Buffer) => createHash("sha256").update(b).digest("hex")

function sendUp(body: Buffer, onProgress: (sent: number) => void = () => {}): Promise<string> {
  return new Promise((done, failed) => {
    const upload = new Upload(body, {
      endpoint: `${origin}/studio/resumable`,
      headers: { cookie },
      chunkSize: 1e6,
      retryDelays: Array.from({ length: 40 }, () => 100),
      onProgress,
      onError: failed,
      onSuccess: () => done(upload.url!.split("/").at(-1)!),
    })
    upload.start()
  })
}

const make = (upload: string, more: RequestInit = {}) =>
  fetch(`${origin}/studio/upload?kind=video&name=film.mp4&upload=${upload}`, {
    method: "POST",
    headers: { cookie },
    ...more,
  })

test("what is cut off three times, with the server gone once and the disk full once, arrives as it was, once", async () => {
  const body = film(24e6)
  const port = Number(new URL(origin).port)
  let cuts = 0
  const full = vi.spyOn(FileStore.prototype, "write")
  const upload = await sendUp(body, (sent) => {
    if (cuts === 0 && sent > 3e6) web.server.closeAllConnections()
    else if (cuts === 1 && sent > 8e6)
      full.mockRejectedValueOnce(Object.assign(new Error("no space left on device"), { code: "ENOSPC" }))
    else if (cuts === 2 && sent > 14e6) web.close().then(() => start(port))
    else return
    cuts++
  })
  full.mockRestore()
  expect(cuts).toBe(3)
  const [one, two] = [await make(upload), await make(upload)]
  expect(one.status).toBe(200)
  const said = (await one.json()) as { id: number; url: string }
  expect(await two.json()).toMatchObject({ id: said.id })
  expect(await t.s.db.row("SELECT kind, type, size FROM media WHERE id = ?", [said.id])).toEqual({
    kind: "video",
    type: "video/mp4",
    size: body.length,
  })
  const served = await fetch(origin + said.url)
  expect(digest(Buffer.from(await served.arrayBuffer()))).toBe(digest(body))
  expect(await readdir(uploadsFolder(t.s.config))).toEqual([])
}, 60_000)

test("it is told by its content, as any upload is; what isn't whole, or isn't there, makes nothing", async () => {
  const text = await sendUp(Buffer.from("<html><script>alert(1)</script>"))
  expect((await make(text)).status).toBe(422)
  expect(await readdir(uploadsFolder(t.s.config))).toEqual([])
  const begun = await fetch(`${origin}/studio/resumable`, {
    method: "POST",
    headers: { cookie, "tus-resumable": "1.0.0", "upload-length": "1000" },
  })
  expect(begun.status).toBe(201)
  const half = begun.headers.get("location")!.split("/").at(-1)!
  for (const none of [half, "0".repeat(24), "../../secret", `${half}.json`]) expect((await make(none)).status).toBe(410)
})

test("nobody sends, asks or takes away without a session of the studio, or from another site", async () => {
  const begun = await fetch(`${origin}/studio/resumable`, {
    method: "POST",
    headers: { cookie, "tus-resumable": "1.0.0", "upload-length": "1000" },
  })
  const there = origin + begun.headers.get("location")
  const learner = `${sessionCookie(t.s.config, "learn")}=${await beginSession(t.s.db, "studio", 1)}`
  for (const method of ["HEAD", "PATCH", "DELETE", "POST"])
    for (const headers of [{}, { cookie: learner }, { cookie, origin: "https://evil.example" }]) {
      const res = await fetch(method === "POST" ? `${origin}/studio/resumable` : there, {
        method,
        headers: { "tus-resumable": "1.0.0", "upload-offset": "0", ...(headers as Record<string, string>) },
      })
      expect([method, res.status]).toEqual([method, "origin" in headers ? 403 : 401])
    }
  const large = await fetch(`${origin}/studio/resumable`, {
    method: "POST",
    headers: { cookie, "tus-resumable": "1.0.0", "upload-length": "2000000001" },
  })
  expect(large.status).toBe(413)
  expect(await readFile(`${uploadsFolder(t.s.config)}/${there.split("/").at(-1)}.json`, "utf8")).toContain("1000")
})
