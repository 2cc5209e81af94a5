// Two gigabytes sent up bit by bit (tus) through the front, against the same bytes in one plain request; and the memory that the web
// process takes for it.
import { closeSync, createReadStream, openSync, readFileSync, rmSync, writeSync } from "node:fs"
import { request } from "node:http"
import { join } from "node:path"
import { Upload } from "tus-js-client"
import { startDemoSchool } from "@/cli/demo-school"
import { configFromEnvironment } from "@/server/config"
import { closeContext } from "@/server/context"
import { openContext } from "@/server/open"
import { beginSession, sessionCookie } from "@/server/person/session"
import type { Line } from "./report"

const size = 2_000_000_000

export async function benchUpload(folder: string): Promise<Line[]> {
  const school = await startDemoSchool(folder, 200)
  const config = configFromEnvironment(school.environment)
  const s = openContext(config, "bench")
  const file = join(folder, "film.mp4")
  try {
    const account = await s.db.row<{ id: number }>("SELECT id FROM account ORDER BY id LIMIT 1")
    const cookie = `${sessionCookie(config, "studio")}=${await beginSession(s.db, "studio", account!.id)}`
    writeFilm(file)
    const pid = school.process("web")!.pid!
    const before = memoryOf(pid)
    let most = before
    const watch = setInterval(() => {
      most = Math.max(most, memoryOf(pid))
    }, 50)
    const bitByBit = await timeOf(() => byTus(school.origin, cookie, file))
    clearInterval(watch)
    const plain = await timeOf(() => inOneGo(school.origin, cookie, file))
    const rate = (ms: number) => size / 1e3 / ms
    return [
      {
        what: "2 GB by tus, MB a second",
        ours: rate(bitByBit).toFixed(0),
        against: rate(plain).toFixed(0),
        ratio: (plain / bitByBit).toFixed(2),
        wanted: "at least 0.5",
      },
      {
        what: "memory that the web process took for it, MB",
        ours: ((most - before) / 1024).toFixed(0),
        wanted: "under 50",
      },
    ]
  } finally {
    rmSync(file, { force: true })
    await closeContext(s)
    await school.stop()
  }
}

/** An MP4 by its first bytes, and then the same megabyte over and over. */
function writeFilm(path: string): void {
  const out = openSync(path, "w")
  const megabyte = Buffer.alloc(1e6, 7)
  for (let at = 0; at < size; at += megabyte.length) {
    if (at === 0) {
      const first = Buffer.from(megabyte)
      Buffer.concat([Buffer.from([0, 0, 0, 24]), Buffer.from("ftypisom\0\0\x02\0isomiso2")]).copy(first)
      writeSync(out, first)
    } else writeSync(out, megabyte)
  }
  closeSync(out)
}

/** What a process holds, KB. */
const memoryOf = (pid: number) => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8"))![1])

async function timeOf(work: () => Promise<void>): Promise<number> {
  const began = performance.now()
  await work()
  return performance.now() - began
}

function byTus(origin: string, cookie: string, file: string): Promise<void> {
  return new Promise((done, failed) => {
    new Upload(createReadStream(file), {
      endpoint: `${origin}/studio/resumable`,
      headers: { cookie },
      chunkSize: 16e6,
      uploadSize: size,
      onError: failed,
      onSuccess: () => done(),
    }).start()
  })
}

function inOneGo(origin: string, cookie: string, file: string): Promise<void> {
  return new Promise((done, failed) => {
    const sent = request(
      `${origin}/studio/upload?kind=video&name=film.mp4`,
      { method: "POST", headers: { cookie, "content-length": size } },
      (res) => {
        res.resume()
        res.on("end", () => (res.statusCode === 200 ? done() : failed(new Error(`answered ${res.statusCode}`))))
      },
    )
    sent.on("error", failed)
    createReadStream(file).pipe(sent)
  })
}
