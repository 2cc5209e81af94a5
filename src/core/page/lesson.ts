// What a lesson says: a page of blocks. One written before lessons were pages is read from what it had.
import { blockKinds, writeBlock } from "./block/list"
import type { BlockContext } from "./compile"
import { type Block, type Page, readPage } from "./document"
import { allBlocks } from "./walk"
import { type LessonPart, Writer } from "./writer"

export type LessonSource = {
  readonly title: string
  /** The page as JSON; null for a lesson from before, which has the rest instead. */
  readonly page: string | null
  readonly body: string
  readonly picture_id: number | null
  readonly picture_alt: string
  readonly video_id: number | null
  readonly file_id: number | null
}

/** The page of a lesson. Throws PageError where it can't be read. */
export function lessonPage(l: LessonSource): Page {
  if (l.page !== null) return readPage(JSON.parse(l.page))
  const blocks: Block[] = []
  if (l.video_id !== null)
    blocks.push({
      id: "video",
      kind: "player",
      media: l.video_id,
      says: l.title,
      captions: null,
      download: false,
      chapters: [],
    })
  else if (l.picture_id !== null)
    blocks.push({ id: "picture", kind: "picture", media: l.picture_id, alt: l.picture_alt })
  if (l.body) blocks.push({ id: "text", kind: "text", html: l.body })
  if (l.file_id !== null) blocks.push({ id: "file", kind: "download", media: l.file_id, says: "" })
  return { version: 1, title: l.title.slice(0, 120) || "Lesson", blocks }
}

/** A lesson as HTML, and between it the parts that are made anew for each learner. Its title stands above it. */
export function writeLesson(page: Page, context: BlockContext): readonly (string | LessonPart)[] {
  const out = new Writer()
  const at = {
    path: "",
    lesson: true as const,
    courses: [],
    context,
    state: { headlines: 1, first: null },
    webinar: null,
    takesSeat: false,
    recruits: null,
    sold: { card: undefined, way: undefined },
    address: () => null,
  }
  for (const b of page.blocks) writeBlock(out, b, at)
  return out.pieces.filter((p): p is string | LessonPart => typeof p === "string" || "part" in p)
}

/** Whether a lesson is there to take files away, with no more than a few words (400 letters) to them. */
export function isOnlyFiles(page: Page): boolean {
  const blocks = [...allBlocks(page.blocks)]
  const kinds = blocks.map((b) => blockKinds[b.kind].amongFiles)
  const letters = blocks.reduce((n, b) => n + (blockKinds[b.kind].text?.(b) ?? "").length, 0)
  return kinds.includes("file") && kinds.every((k) => k !== undefined) && letters <= 400
}

/** What a lesson still leaves to be said, in words. */
export function lessonGaps(page: Page): string[] {
  return [...allBlocks(page.blocks)].flatMap((b) => blockKinds[b.kind].gap(b) ?? [])
}
