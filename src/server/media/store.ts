// Pictures, videos and files: told by their content, kept under a name of ours, served by the front.

import { randomBytes } from "node:crypto"
import { createReadStream } from "node:fs"
import { copyFile, link, mkdir, open, readdir, readFile, rename, rm, stat } from "node:fs/promises"
import { basename, join } from "node:path"
import { fileTypeFromFile } from "file-type"
import sharp from "sharp"
import { filmWidths } from "@/core/page/film"
import { narrower } from "@/core/page/picture"
import { refusals } from "@/core/words/refusals"
import type { Config } from "../config"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { draw, TooBusy } from "../draw/draw"
import type { Beside } from "../draw/thread"
import type { Refused } from "../saved"
import { sign, verify } from "../sign"
import { captionsProblem } from "./captions"
import { besideFilm } from "./film"
import { secondsOf } from "./length"

export type MediaKind = "picture" | "video" | "file"

/** What the school uploads, and what learners hand in. */
type UploadKind = MediaKind | "handed-in"

/** The largest upload of each kind, bytes. */
export const largest: Record<UploadKind, number> = { picture: 12e6, video: 2e9, file: 2e9, "handed-in": 20e6 }

const pictures = ["image/png", "image/jpeg", "image/webp", "image/gif", "image/avif"]
const videos: Record<string, string> = { "video/mp4": "mp4", "video/webm": "webm", "video/quicktime": "mp4" }
const files: Record<string, string> = {
  "application/pdf": "pdf",
  "application/zip": "zip",
  "application/epub+zip": "epub",
  "audio/mpeg": "mp3",
  "audio/x-m4a": "m4a",
  "text/vtt": "vtt",
  "application/vnd.openxmlformats-officedocument.wordprocessingml.document": "docx",
  "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet": "xlsx",
}

export type StoredMedia = { readonly id: number; readonly stored: string } | Refused

export const tooLarge = (kind: UploadKind) =>
  refusals.file.tooLarge(kind === "handed-in" ? "file" : kind, Math.round(largest[kind] / 1e6))

/**
 * Keeps an upload as it comes in, so that a large one takes no more memory than a small one. What it is is read from its
 * bytes, whatever it is called; pictures are drawn anew (at most 1600 pixels wide, as WebP), which leaves behind everything
 * that isn't picture. `person` is who hands a file in.
 */
export async function storeMedia(
  s: Context,
  kind: UploadKind,
  name: string,
  body: Buffer | AsyncIterable<Uint8Array>,
  person: number | null = null,
): Promise<StoredMedia> {
  await mkdir(s.config.mediaFolder, { recursive: true })
  const stem = randomBytes(12).toString("hex")
  return await storePart(s, kind, name, stem, person, (part) => writePart(part, body, largest[kind]))
}

/** Where uploads that come bit by bit wait until they are whole. */
export const uploadsFolder = (config: Config) => join(/* turbopackIgnore: true */ config.dataFolder, "uploads")

/**
 * Makes a film or a file of an upload that came bit by bit and is whole; asked once more, it says the same again. Undefined: there is none
 * of this name, or it isn't whole.
 */
export async function storeUploaded(
  s: Context,
  kind: MediaKind,
  name: string,
  upload: string,
): Promise<StoredMedia | undefined> {
  if (!/^[0-9a-f]{24}$/.test(upload)) return undefined
  const kept = await s.db.row<{ id: number; stored: string }>(
    "SELECT id, stored FROM media WHERE stored LIKE ? AND kind = ?",
    [`${upload}.%`, kind],
  )
  if (kept) return kept
  const waits = join(/* turbopackIgnore: true */ uploadsFolder(s.config), upload)
  const said = await readFile(`${waits}.json`, "utf8").catch(() => null)
  if (said === null) return undefined
  const there = await stat(waits).catch(() => null)
  if (!there || there.size !== (JSON.parse(said) as { size?: number }).size) return undefined
  await mkdir(s.config.mediaFolder, { recursive: true })
  const stored = await storePart(s, kind, name, upload, null, async (part) => {
    if (there.size > largest[kind]) return null
    // Nothing is copied, unless they are kept on another disk.
    await link(waits, part).catch((error: NodeJS.ErrnoException) => {
      if (error.code !== "EXDEV") throw error
      return copyFile(waits, part)
    })
    return there.size
  })
  for (const file of [waits, `${waits}.json`]) await rm(file, { force: true })
  return stored
}

/** What `write` has written, told by its content and kept under a name; it gives the size, or null where it is too large. */
async function storePart(
  s: Context,
  kind: UploadKind,
  name: string,
  stem: string,
  person: number | null,
  write: (part: string) => Promise<number | null>,
): Promise<StoredMedia> {
  const folder = s.config.mediaFolder
  const part = join(/* turbopackIgnore: true */ folder, `${stem}.part`)
  try {
    const size = await write(part)
    if (size === null) return { refused: tooLarge(kind) }
    if (size === 0) return { refused: refusals.file.empty }
    const found = kind === "picture" ? await drawAnew(part, person) : await tellFile(kind, part, person)
    const seconds = "refused" in found ? null : await secondsOf(part, found.type)
    if ("refused" in found) return found
    const stored = `${stem}.${found.ending}`
    const path = join(/* turbopackIgnore: true */ folder, stored)
    await rename(part, path)
    return await keep(s, { ...found, kind, name, stored, size: found.size ?? size, seconds, person }).catch(
      async (error) => {
        await rm(path, { force: true })
        throw error
      },
    )
  } finally {
    await rm(part, { force: true })
  }
}

type Told = {
  readonly type: string
  readonly ending: string
  readonly size?: number
  readonly width?: number
  readonly height?: number
  readonly darkest?: string
  readonly lightest?: string
}

async function keep(
  s: Context,
  m: Told & {
    kind: UploadKind
    name: string
    stored: string
    size: number
    seconds: number | null
    person: number | null
  },
): Promise<StoredMedia> {
  const made = await s.db.insert("media", {
    kind: m.kind,
    type: m.type,
    name: safeName(m.name, m.ending),
    stored: m.stored,
    size: m.size,
    width: m.width ?? null,
    height: m.height ?? null,
    darkest: m.darkest ?? null,
    lightest: m.lightest ?? null,
    seconds: m.seconds,
    person_id: m.person,
    made_at: new Date(await s.clock.now()),
  })
  return { id: made.id, stored: m.stored }
}

/** Writes a body to a file; gives its size, or null where it is over `most`. */
async function writePart(path: string, body: Buffer | AsyncIterable<Uint8Array>, most: number): Promise<number | null> {
  let size = 0
  const file = await open(path, "w")
  try {
    for await (const chunk of Buffer.isBuffer(body) ? [body] : body) {
      size += chunk.length
      if (size > most) return null
      await file.writeFile(chunk)
    }
  } finally {
    await file.close()
  }
  return size
}

/** The largest picture that is drawn anew, pixels: it stands in memory whole while that is done. */
const mostPixels = 50e6

async function drawAnew(part: string, person: number | null): Promise<Told | Refused> {
  const told = (await fileTypeFromFile(part))?.mime ?? "unknown"
  if (!pictures.includes(told) && (person !== null || !(await isDrawing(part))))
    return { refused: refusals.file.picture }
  const head = await sharp(part)
    .metadata()
    .catch(() => null)
  if (!head) return { refused: refusals.file.damaged }
  if (head.width * head.height > mostPixels) return { refused: refusals.file.tooManyPixels(mostPixels / 1e6) }
  const who = person === null ? null : `person ${person}`
  const drawn = await draw(who, "picture", { path: part, most: mostPixels }).catch((error) => {
    if (error instanceof TooBusy) return "busy" as const
    throw error
  })
  if (drawn === "busy") return { refused: refusals.file.busy }
  return drawn ? { type: "image/webp", ending: "webp", ...drawn } : { refused: refusals.file.damaged }
}

async function tellFile(
  kind: "video" | "file" | "handed-in",
  part: string,
  person: number | null,
): Promise<Told | Refused> {
  const told = (await fileTypeFromFile(part))?.mime ?? "unknown"
  if (kind === "video") {
    const ending = videos[told]
    return ending ? { type: told, ending } : { refused: refusals.file.video }
  }
  if (kind === "handed-in" && pictures.includes(told)) return drawAnew(part, person)
  const captions = told === "text/vtt" ? await captionsProblem(part) : null
  if (captions) return { refused: captions }
  if (files[told]) return { type: told, ending: files[told] }
  if (await isPlainText(part)) return { type: "text/plain", ending: "txt" }
  return {
    refused: kind === "handed-in" ? refusals.file.handedIn : refusals.file.kind,
  }
}

/** The largest drawing in lines that is painted, bytes. */
const mostOfDrawing = 2e6

/** A drawing in lines (SVG). It is painted and kept as pixels, so that nothing of what else it holds is left. */
async function isDrawing(path: string): Promise<boolean> {
  if ((await stat(path)).size > mostOfDrawing) return false
  const text = await readFile(path, "utf8")
  return /^\uFEFF?\s*(?:<\?xml[^>]*>\s*)?(?:<!(?!ENTITY)[^>]*>\s*)*<svg[\s>]/i.test(text) && !/<!ENTITY/i.test(text)
}

async function isPlainText(path: string): Promise<boolean> {
  const decoder = new TextDecoder("utf-8", { fatal: true })
  let first = true
  try {
    for await (const chunk of createReadStream(path)) {
      const text = decoder.decode(chunk as Buffer, { stream: true })
      if (/[\0-\x08\x0E-\x1F]/.test(text) || (first && /^\s*</.test(text))) return false
      first = false
    }
    decoder.decode()
    return true
  } catch {
    return false
  }
}

/** What a download will be called: the last part of the name, without anything that means something to a file system. */
export function safeName(name: string, ending: string): string {
  const last = basename(name.replace(/\\/g, "/"))
    .normalize("NFC")
    .replace(/[\p{Cc}\p{Cf}"<>:|?*/\\]/gu, "")
    .replace(/^\.+/, "")
    .trim()
  const stem = last.replace(/\.[^.]*$/, "").slice(0, 120) || "file"
  return `${stem}.${ending}`
}

export type Served = {
  /** The name that a link to it is signed for. */
  readonly stored: string
  readonly path: string
  readonly type: string
  readonly size: number
  readonly name: string
  readonly open: boolean
  /** It is what was asked for, and will always be; otherwise what stands in for it. */
  readonly lasting: boolean
  /** A film that isn't there in the width that was asked for, but under this name. */
  readonly instead?: string
}

/** Behind a picture's stored name it is the same as JPEG, for mail programs that show no WebP. */
export const asJpeg = (stored: string) => (stored.endsWith(".webp") ? `${stored}.jpg` : stored)

const typeOf = {
  jpeg: "image/jpeg",
  webp: "image/webp",
  avif: "image/avif",
  icon: "image/png",
  logo: "image/png",
} as const

const beingDrawn = new Map<string, Promise<string>>()

/** A picture beside a picture, made when it is first asked for, once however many ask. */
async function drawnBeside(path: string, as: Beside): Promise<string> {
  const to = `${path}${as.width ? `-${as.width}` : ""}.${as.kind}`
  if (await stat(to).catch(() => null)) return to
  const now = beingDrawn.get(to)
  if (now) return now
  const part = `${to}.${randomBytes(6).toString("hex")}.part`
  const drawn = draw(null, "beside", { from: path, part, to, as }).then(() => to)
  beingDrawn.set(to, drawn)
  try {
    return await drawn
  } finally {
    beingDrawn.delete(to)
  }
}

/** Which form of a picture is asked for by an address: its own, another kind, or a narrower width; AVIF where it is taken. */
function besideOf(asked: string, avif: boolean): { readonly stored: string; readonly as: Beside | null } | undefined {
  const [, stem, how, ending, jpeg] =
    /^([0-9a-f]{24})(?:-(\d{2,4}|icon|logo))?\.([a-z0-9]{2,4})(\.jpg)?$/.exec(asked) ?? []
  if (!stem || (jpeg && (how || ending !== "webp"))) return undefined
  if (how === "icon" || how === "logo")
    return ending === "png" ? { stored: `${stem}.webp`, as: { kind: how } } : undefined
  if (how && !(ending === "webp" && narrower.some((w) => String(w) === how))) return undefined
  const width = how ? { width: Number(how) } : {}
  const as: Beside | null = jpeg
    ? { kind: "jpeg", width: 1120 }
    : ending === "webp" && avif
      ? { kind: "avif", ...width }
      : how
        ? { kind: "webp", ...width }
        : null
  return { stored: `${stem}.${ending}`, as }
}

/** The film that an address asks for in a narrower width, and that width. */
function filmOf(asked: string): readonly [] | readonly [stored: string, width: number] {
  const [, stem, width, ending] = /^([0-9a-f]{24})-(\d{3,4})\.(mp4|webm)$/.exec(asked) ?? []
  return stem && filmWidths.some((w) => String(w) === width) ? [`${stem}.${ending}`, Number(width)] : []
}

/**
 * What stands under a stored name, or undefined. Pictures, and videos of published pages, are open; the rest wants a signed link.
 *
 * @param avif whether who asks takes a picture as AVIF
 */
export async function findMedia(db: Db, config: Config, asked: string, avif = false): Promise<Served | undefined> {
  const [film, width] = filmOf(asked)
  const { stored, as } = film ? { stored: film, as: null } : (besideOf(asked, avif) ?? {})
  if (!stored) return undefined
  const row = await db.row<{ kind: UploadKind; type: string; name: string; public: number }>(
    "SELECT kind, type, name, public FROM media WHERE stored = ?",
    [stored],
  )
  if (!row || (row.kind !== "picture" && asked !== stored && !(film && row.kind === "video"))) return undefined
  const kept = join(/* turbopackIgnore: true */ config.mediaFolder, stored)
  const sizeOf = (path: string) =>
    stat(path).then(
      (x) => x.size,
      () => -1,
    )
  if (width) {
    const path = besideFilm(kept, width)
    const size = await sizeOf(path)
    const made = { path, type: "video/mp4", size, name: row.name, open: Boolean(row.public), stored }
    return size < 0 ? { ...made, lasting: false, instead: stored } : { ...made, lasting: true }
  }
  // Where it can't be drawn just now, the picture itself does as well.
  const path = as && row.kind === "picture" ? await drawnBeside(kept, as).catch(() => kept) : kept
  const size = await sizeOf(path)
  return size < 0
    ? undefined
    : {
        path,
        stored,
        type: path === kept || !as ? row.type : typeOf[as.kind],
        lasting: path !== kept || !as,
        size,
        name: row.name,
        open: row.kind === "picture" || Boolean(row.public),
      }
}

/** A link to a file behind an admission, good for six hours of real time. */
export function mediaLink(config: Config, stored: string, now: number): string {
  return `/media/${stored}?key=${sign(config.secret, "media", `${stored}-${Math.ceil(now / 1000) + 21_600}`)}`
}

export function mayFetch(config: Config, stored: string, key: string, now: number): boolean {
  const text = verify(config.secret, "media", key)
  const dash = text?.lastIndexOf("-") ?? -1
  return text !== null && text.slice(0, dash) === stored && Number(text.slice(dash + 1)) * 1000 > now
}

/** Takes a file away, its row first: one whose row is gone is never served. */
export async function removeMedia(s: Context, m: { readonly id: number; readonly stored: string }): Promise<void> {
  await s.db.write("DELETE FROM media WHERE id = ?", [m.id])
  const folder = s.config.mediaFolder
  const beside = (await readdir(folder).catch(() => [])).filter((f) => f.startsWith(m.stored))
  for (const file of [m.stored, ...beside]) await rm(join(/* turbopackIgnore: true */ folder, file), { force: true })
}
