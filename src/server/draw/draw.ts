// Drawing that takes a processor or much memory, away from the thread that answers: a small pool of threads with a queue.
import { createHash } from "node:crypto"
import { mkdir, readFile, rename, rm, writeFile } from "node:fs/promises"
import { join } from "node:path"
import { Piscina } from "piscina"
import type { Config } from "../config"
import type { DrawingKind, Drawings } from "./thread"

/** Too much waits, in all or of one person: a moment later there is place again. */
export class TooBusy extends Error {}

/** How much of one person may be waited for at once. */
const ofOne = 3

let pool: Piscina | undefined
const inHand = new Map<string, number>()

const threads = () =>
  (pool ??= new Piscina({
    filename: join(/* turbopackIgnore: true */ process.cwd(), "src/server/draw/thread.ts"),
    execArgv: ["--import", "tsx"],
    minThreads: 0,
    maxThreads: 2,
    maxQueue: 64,
    idleTimeout: 10_000,
  }))

/**
 * Has something drawn; throws `TooBusy` where the queue is full.
 *
 * @param who whose it is, so that one person doesn't keep the others waiting; null: the school's own
 */
export async function draw<K extends DrawingKind>(
  who: string | null,
  kind: K,
  input: Parameters<Drawings[K]>[0],
): Promise<Awaited<ReturnType<Drawings[K]>>> {
  const mine = who === null ? 0 : (inHand.get(who) ?? 0)
  if (mine >= ofOne || threads().queueSize >= 64) throw new TooBusy()
  if (who !== null) inHand.set(who, mine + 1)
  try {
    return await threads().run({ kind, input })
  } finally {
    if (who !== null && inHand.get(who) === 1) inHand.delete(who)
    else if (who !== null) inHand.set(who, inHand.get(who)! - 1)
  }
}

/** What is drawn once and kept, with the ending of its files. */
const endings = { certificate: "pdf", statement: "pdf", report: "pdf", preview: "jpg" } as const
type Sheet = keyof typeof endings

const beingDrawn = new Map<string, Promise<Uint8Array>>()

/**
 * A sheet that is drawn once and kept: the next one who asks reads the file. Where what it says has changed, it is drawn
 * anew and the older one goes.
 *
 * @param name what it is of, in letters and digits
 */
export async function keptSheet<K extends Sheet>(
  config: Config,
  who: string | null,
  kind: K,
  name: string,
  input: Parameters<Drawings[K]>[0],
): Promise<Uint8Array> {
  const folder = sheetFolder(config, kind, name)
  const says = createHash("sha256").update(JSON.stringify(input)).digest("hex").slice(0, 16)
  const path = join(/* turbopackIgnore: true */ folder, `${says}.${endings[kind]}`)
  const kept = await readFile(path).catch(() => null)
  if (kept) return kept
  const now = beingDrawn.get(path)
  if (now) return now
  const drawn = (async () => {
    const bytes = (await draw(who, kind, input)) as Uint8Array
    await forgetSheets(config, kind, name)
    await mkdir(folder, { recursive: true })
    const part = `${path}.part`
    await writeFile(part, bytes)
    await rename(part, path)
    return bytes
  })()
  beingDrawn.set(path, drawn)
  try {
    return await drawn
  } finally {
    beingDrawn.delete(path)
  }
}

/** Removes what is kept of a sheet. */
export async function forgetSheets(config: Config, kind: Sheet, name: string): Promise<void> {
  await rm(sheetFolder(config, kind, name), { recursive: true, force: true })
}

const sheetFolder = (config: Config, kind: Sheet, name: string) =>
  join(/* turbopackIgnore: true */ config.dataFolder, "sheets", kind, name)
