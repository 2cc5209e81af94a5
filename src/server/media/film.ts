// Films in narrower widths, made by ffmpeg where this machine has it; everywhere else a film plays as it came.
import { execFile, spawn } from "node:child_process"
import { rename, rm, stat } from "node:fs/promises"
import { setPriority } from "node:os"
import { join } from "node:path"
import { promisify } from "node:util"
import { filmWidths } from "@/core/page/film"
import type { Context } from "../context"

/** Whether films can be made narrower here. */
export const makesFilms = (s: Pick<Context, "config">): Promise<boolean> =>
  promisify(execFile)(s.config.ffmpeg, ["-version"], { timeout: 10_000 }).then(
    () => true,
    () => false,
  )

/** Where a film lies in a narrower width, beside the film. */
export const besideFilm = (path: string, width: number) => `${path}-${width}.mp4`

/** How long a film may stand still while it is made, ms of real time. */
const standsStill = 60_000

/**
 * Makes the next film that waits for it narrower; whether there was one. One that can't be made, or that hangs, stays as it came and isn't
 * tried again.
 *
 * @param still how long nothing may come of it, ms of real time
 * @param stop what ends it in between: it is begun anew by whoever comes next
 */
export async function narrowFilm(s: Context, { still = standsStill, stop = new AbortController().signal } = {}) {
  const next = await s.db.row<{ id: number; stored: string }>(
    "SELECT id, stored FROM media WHERE kind = 'video' AND narrowed IS NULL AND COALESCE(narrowing_until < NOW(3), TRUE) ORDER BY id LIMIT 1",
  )
  if (!next || stop.aborted || !(await makesFilms(s))) return false
  const hold = () =>
    s.db.write("UPDATE media SET narrowing_until = NOW(3) + INTERVAL ? SECOND WHERE id = ? AND narrowed IS NULL", [
      Math.ceil(s.config.leaseMs / 1000),
      next.id,
    ])
  await hold()
  const held = setInterval(() => void hold().catch(() => {}), s.config.leaseMs / 3)
  try {
    const path = join(/* turbopackIgnore: true */ s.config.mediaFolder, next.stored)
    const made: number[] = []
    // One that takes no more than the narrower before it is no wider either.
    let least = 0
    for (const width of filmWidths) {
      const size = await makeNarrower(s, path, width, { least, still, stop })
      if (size === null) continue
      least = size * 1.1
      made.push(width)
    }
    if (stop.aborted) await s.db.update("media", next.id, { narrowing_until: null })
    // By its name: what was put in its stead meanwhile is another film.
    else
      await s.db.write("UPDATE media SET narrowed = ?, narrowing_until = NULL WHERE stored = ?", [
        made.join(","),
        next.stored,
      ])
  } finally {
    clearInterval(held)
  }
  return true
}

/** Makes a film in a width and gives its size, bytes; null where it can't be made, would be hardly lighter than the film, or under `least`. */
async function makeNarrower(
  s: Context,
  path: string,
  width: number,
  { least, still, stop }: { least: number; still: number; stop: AbortSignal },
): Promise<number | null> {
  const to = besideFilm(path, width)
  const part = `${to}.part`
  const how = `-nostdin -v error -progress pipe:1 -y -protocol_whitelist file -i`.split(" ")
  const scale = `-map 0:v:0 -map 0:a:0? -vf scale=min(iw\\,${width}):-2 -c:v libx264 -preset veryfast -crf 25 -pix_fmt yuv420p -c:a aac -b:a 96k -movflags +faststart -threads 1 -f mp4`
  try {
    const whole = (await stat(path)).size
    if (!(await run(s.config.ffmpeg, [...how, path, ...scale.split(" "), part], still, stop))) return null
    const { size } = await stat(part)
    if (size > whole * 0.9 || size < least) return null
    await rename(part, to)
    return size
  } catch {
    return null
  } finally {
    await rm(part, { force: true })
  }
}

/** Runs it at a low priority; whether it ended well. It is ended where its progress says nothing new for a while. */
function run(program: string, args: readonly string[], still: number, stop: AbortSignal): Promise<boolean> {
  return new Promise((done) => {
    if (stop.aborted) return done(false)
    const child = spawn(program, args, { stdio: ["ignore", "pipe", "ignore"] })
    const end = () => child.kill("SIGKILL")
    let waits = setTimeout(end, still)
    let reached = ""
    stop.addEventListener("abort", end)
    child.on("spawn", () => {
      try {
        setPriority(child.pid!, 15)
      } catch {
        // It has ended already.
      }
    })
    child.stdout.on("data", (text: Buffer) => {
      const at = /out_time=\S+/.exec(String(text))?.[0] ?? reached
      if (at === reached) return
      reached = at
      clearTimeout(waits)
      waits = setTimeout(end, still)
    })
    const ended = (well: boolean) => {
      clearTimeout(waits)
      stop.removeEventListener("abort", end)
      done(well)
    }
    child.on("error", () => ended(false))
    child.on("close", (code) => ended(code === 0))
  })
}
