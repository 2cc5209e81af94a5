// Standing up: a database that hangs, bodies that crawl, uploads that are large, visitors that are none, and a round of work
// of which one part fails.
import { request } from "node:http"
import { connect } from "node:net"
import { Readable } from "node:stream"
import pino from "pino"
import { afterAll, beforeAll, describe, expect, inject, it } from "vitest"
import { type FrontServer, frontServer } from "@/front/server"
import { openDatabase } from "@/server/db/pool"
import { doWhatIsDue, housekeeping } from "@/server/due-list"
import { rollUp } from "@/server/funnel/rollup"
import { happen } from "@/server/happen"
import { sweepOrders, unpaidFor } from "@/server/ledger/sweep"
import { sendDue } from "@/server/mail/send"
import { askMailServer, tryAgainNow } from "@/server/mail/server"
import { beginSession, sessionCookie } from "@/server/person/session"
import { sweepKnocks } from "@/server/person/way-in"
import { MailTrouble } from "@/server/port/mailer"
import { join_, openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
let web: FrontServer
let origin: string
let port: number
beforeAll(async () => {
  t = await testSchool("standing")
  school = await openSchool(t)
  web = frontServer(
    t.s,
    async (req, res) => {
      // What stands behind asks the database, too.
      if (req.url?.startsWith("/studio/slow")) await t.s.db.row("SELECT 1")
      res.end("next")
    },
    { forms: { whole: 3_000, still: 1_200 }, most: 5 },
  )
  await web.front.live.refresh()
  await new Promise<void>((r) => web.server.listen(0, "127.0.0.1", () => r()))
  port = (web.server.address() as { port: number }).port
  origin = `http://127.0.0.1:${port}`
})
afterAll(async () => {
  await web.close()
  await t.end()
})

const count = async (table: string) => (await t.s.db.row<{ n: number }>(`SELECT COUNT(*) AS n FROM ${table}`))!.n

describe("a database that has stopped answering, but isn't dead", () => {
  it("is said to be away within two seconds, and nobody waits longer than five", async () => {
    const pid = inject("databasePid")
    const waiting: Promise<[number, number]>[] = []
    const timed = async (path: string, init?: RequestInit): Promise<[number, number]> => {
      const began = Date.now()
      const { status } = await fetch(origin + path, init)
      return [status, Date.now() - began]
    }
    process.kill(pid, "SIGSTOP")
    try {
      waiting.push(
        timed("/healthz"),
        timed("/studio/slow"),
        timed("/first", {
          method: "POST",
          body: new URLSearchParams({ email: "hang@post.example", release: String(school.release) }),
        }),
      )
      const [health, ...others] = await Promise.all(waiting)
      expect(health![0]).toBe(503)
      expect(health![1]).toBeLessThan(2_500)
      for (const [status, ms] of others) {
        expect(status).toBe(503)
        expect(ms).toBeLessThan(5_500)
      }
      // What is published stays, and everything else is told at once.
      expect((await fetch(`${origin}/first`)).status).toBe(200)
      expect((await timed("/studio"))[0]).toBe(503)
    } finally {
      process.kill(pid, "SIGCONT")
    }
    await expect.poll(async () => (await fetch(`${origin}/studio/slow`)).status, { timeout: 10_000 }).toBe(200)
  })
  it("gives up a statement after its time, and goes on with another connection", async () => {
    const db = openDatabase(t.url, 1, 300)
    await expect(db.row("SELECT SLEEP(3)")).rejects.toMatchObject({ code: "PROTOCOL_SEQUENCE_TIMEOUT" })
    await expect(db.transaction((tx) => tx.row("SELECT SLEEP(3)"))).rejects.toMatchObject({
      code: "PROTOCOL_SEQUENCE_TIMEOUT",
    })
    expect(await db.row("SELECT 1 AS n")).toEqual({ n: 1 })
    await db.end()
  })
})

describe("what crawls in", () => {
  /** Opens a request whose body never comes whole; resolves with what the server says. */
  const crawl = (drip: boolean) =>
    new Promise<string>((done) => {
      const socket = connect(port, "127.0.0.1")
      let said = ""
      socket.on("data", (d) => {
        said += d
      })
      socket.write(
        "POST /first HTTP/1.1\r\nHost: x\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: 60000\r\n\r\nemail=",
      )
      const timer = drip ? setInterval(() => socket.write("a"), 300) : undefined
      socket.on("close", () => {
        clearInterval(timer)
        done(said)
      })
      socket.on("error", () => {})
    })
  it("is given up when it stands still, and when it takes too long", async () => {
    const [still, dripping] = await Promise.all([crawl(false), crawl(true)])
    expect(still).toMatch(/^HTTP\/1\.1 408/)
    expect(dripping).toMatch(/^HTTP\/1\.1 408/)
  })
  it("may come only so often from one connection at once", async () => {
    const many = Array.from({ length: 8 }, () => crawl(false))
    const said = await Promise.all(many)
    expect(said.filter((s) => s.startsWith("HTTP/1.1 429"))).toHaveLength(3)
    expect(said.filter((s) => s.startsWith("HTTP/1.1 408"))).toHaveLength(5)
  })
  it("is refused in words where it is no form", async () => {
    const broken = (headers: Record<string, string>, body: string) =>
      fetch(`${origin}/learn/sign-in`, { method: "POST", headers, body })
    const type = { "content-type": "multipart/form-data; boundary=x" }
    expect((await broken(type, "--x\r\nContent-Disposition: form-data; na")).status).toBe(400)
    expect((await broken({ "content-type": "multipart/form-data" }, "?")).status).toBe(400)
    expect((await broken(type, '--x\r\nContent-Disposition: form-data; name="a"\r\n\r\nb\r\n--x--\r\n')).status).toBe(
      200,
    )
    const form = new FormData()
    form.set("a", "x".repeat(3_000_000))
    expect(
      (await fetch(`${origin}/learn/sign-in`, { method: "POST", body: form }).catch(() => ({ status: 413 }))).status,
    ).toBe(413)
  })
})

it("an upload of 300 MB goes to the disk, not into memory", async () => {
  const token = await beginSession(t.s.db, "studio", 1)
  const cookie = `${sessionCookie(t.s.config, "studio")}=${token}`
  const head = Buffer.from("000000206674797069736f6d0000020069736f6d69736f32617663316d703431", "hex")
  const chunk = Buffer.alloc(1_000_000)
  const send = (query: string, megabytes: number, headers: Record<string, string>) =>
    new Promise<{ status: number; body: string }>((done, failed) => {
      const req = request(`${origin}/studio/upload?${query}`, { method: "POST", headers }, (res) => {
        let body = ""
        res.on("data", (d) => {
          body += d
        })
        res.on("end", () => done({ status: res.statusCode!, body }))
      })
      req.on("error", failed)
      Readable.from(
        (function* () {
          yield head
          for (let i = 0; i < megabytes; i++) yield chunk
        })(),
      ).pipe(req)
    })
  const before = process.memoryUsage()
  let most = 0
  const watch = setInterval(() => {
    const now = process.memoryUsage()
    most = Math.max(most, now.arrayBuffers + now.heapUsed - before.arrayBuffers - before.heapUsed)
  }, 20)
  const kept = await send("kind=video&name=long.mp4", 300, { cookie })
  clearInterval(watch)
  expect(kept.status).toBe(200)
  expect(most).toBeLessThan(120e6)
  expect(await t.s.db.row("SELECT type, size FROM media ORDER BY id DESC LIMIT 1")).toEqual({
    type: "video/mp4",
    size: 300_000_032,
  })
  expect((await send("kind=picture&name=a.png", 1, { cookie })).status).toBe(422)
  expect((await send("kind=picture&name=a.png", 1, {})).status).toBe(401)
  expect((await send("kind=picture&name=a.png", 1, { cookie, origin: "https://evil.example" })).status).toBe(403)
  expect((await send("kind=oops", 1, { cookie })).status).toBe(400)
})

describe("programs that pretend to be visitors", () => {
  it("are no journeys and no sources, by the thousand", async () => {
    const before = await count("journey")
    await Promise.all(
      Array.from({ length: 1_500 }, (_, i) =>
        fetch(`${origin}/first?utm_source=made-up-${i}`).then((r) => r.arrayBuffer()),
      ),
    )
    await web.front.visits.flush()
    expect(await count("journey")).toBe(before)
  })
  it("that do ask for more leave the 200 largest sources, and others", async () => {
    const at = t.at()
    const step = (await t.s.db.row<{ id: number }>("SELECT id FROM step WHERE kind = 'optin'"))!.id
    await happen(
      t.s.db,
      Array.from({ length: 1_000 }, (_, i) => ({
        kind: "arrived" as const,
        at,
        funnel: school.funnel,
        step,
        via: "source" as const,
        source: i < 300 ? "garden letter" : `made-up-${i}`,
        begunAt: new Date(at),
        visitor: Buffer.alloc(16, i),
      })),
    )
    await rollUp(t.s)
    const sources = await t.s.db.rows<{ source: string; n: number }>(
      "SELECT source, SUM(n) AS n FROM river_flow WHERE via = 'source' GROUP BY source ORDER BY 2 DESC",
    )
    expect(sources).toHaveLength(201)
    expect(
      sources
        .map((s) => s.source)
        .slice(0, 2)
        .sort(),
    ).toEqual(["garden letter", "others"])
    expect(sources.reduce((sum, s) => sum + s.n, 0)).toBeGreaterThanOrEqual(1_000)
  })
})

describe("the worker's round", () => {
  it("goes on where one part of it fails, and says so without anybody's values", async () => {
    const lines: string[] = []
    const log = pino({ level: "warn" }, { write: (line: string) => void lines.push(line) })
    await join_(t, school, "round@post.example")
    const failing = {
      ...t.s,
      log,
      cards: { ...({} as never as NonNullable<typeof t.s.cards>), ask: () => Promise.reject(new Error("x")) },
    }
    await t.s.db.write("RENAME TABLE refund TO refund_away")
    try {
      await doWhatIsDue(failing, "w")
    } finally {
      await t.s.db.write("RENAME TABLE refund_away TO refund")
    }
    expect(t.sent.map((m) => m.to.address)).toContain("round@post.example")
    expect(lines.join("")).toContain("ER_NO_SUCH_TABLE")
    const error = await t.s.db
      .write(
        "INSERT INTO address (person_id, email, canonical) VALUES (999999, 'secret@post.example', 'secret@post.example')",
      )
      .catch((e: Error) => e)
    const twice = await t.s.db
      .write("INSERT INTO tag (name) VALUES (?), (?)", ["private words", "private words"])
      .catch((e: Error) => e)
    log.error(error)
    log.error(twice)
    expect(twice).toMatchObject({ code: "ER_DUP_ENTRY" })
    expect(lines.join("")).not.toMatch(/private words/)
  })
  it("sends what waited as soon as the server answers again, and on demand", async () => {
    t.misbehave(() => new MailTrouble("connect ECONNREFUSED"))
    await join_(t, school, "waits@post.example")
    await sendDue(t.s, "w")
    t.misbehave(null)
    await sendDue(t.s, "w")
    const came = () => t.sent.some((m) => m.to.address === "waits@post.example")
    expect(came()).toBe(false) // not before its time
    await askMailServer(t.s)
    await sendDue(t.s, "w")
    expect(came()).toBe(true)
    t.misbehave(() => new MailTrouble("451 later", { reply: 451 }))
    await join_(t, school, "later@post.example")
    await sendDue(t.s, "w")
    t.misbehave(null)
    expect(await tryAgainNow(t.s)).toBe(1)
    await sendDue(t.s, "w")
    expect(t.sent.some((m) => m.to.address === "later@post.example")).toBe(true)
  })
  it("without a mail server uses up no try", async () => {
    await join_(t, school, "nowhere@post.example")
    expect(await sendDue({ ...t.s, mailer: { ...t.s.mailer, server: "" } }, "w")).toEqual({ sent: 0, troubled: 0 })
    expect(await t.s.db.row("SELECT state, tries FROM mail WHERE to_email = 'nowhere@post.example'")).toEqual({
      state: "due",
      tries: 0,
    })
  })
  it("forgets orders never paid and who knocked, after their time", async () => {
    const put = (state: string, at: number, once: string) =>
      t.s.db.write(
        "INSERT INTO orders (code, once, state, step_id, release_id, visitor, canonical, email, name, zone, currency, net, tax, gross, sentence, made_at, hold_until) VALUES (?, ?, ?, 1, 1, ?, 'a@x.example', 'a@x.example', '', 'UTC', 'EUR', 1, 0, 1, '', ?, ?)",
        [once.padEnd(22, "x"), once, state, Buffer.alloc(16), new Date(at), new Date(at)],
      )
    const old = t.at() - unpaidFor - 1
    const { id } = await put("refused", old, "old-refused")
    await t.s.db.write(
      "INSERT INTO charge (once, order_id, state, net, tax, gross, currency, at, ask_at) VALUES ('c', ?, 'refused', 1, 0, 1, 'EUR', ?, ?)",
      [id, new Date(old), new Date(old)],
    )
    await put("begun", old, "old-begun")
    await put("paid", old, "old-paid")
    await put("begun", t.at(), "new-begun")
    expect(await sweepOrders(t.s)).toBe(2)
    expect((await t.s.db.rows<{ once: string }>("SELECT once FROM orders ORDER BY once")).map((o) => o.once)).toEqual([
      "new-begun",
      "old-paid",
    ])
    await t.s.db.write("UPDATE knock SET mailed_at = ?", [new Date(Date.now() - 90_000_000)])
    await sweepKnocks(t.s.db)
    expect(await count("knock")).toBe(0)
    await housekeeping(t.s)
  })
})
