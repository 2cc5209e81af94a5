// Chapters of a video, as they are typed and pasted: one a line, "1:30 The salt".
import * as v from "valibot"

export const chapters = v.pipe(
  v.array(
    v.object({
      /** Seconds from the beginning. */
      at: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(359_999)),
      title: v.pipe(v.string(), v.maxLength(160)),
    }),
  ),
  v.maxLength(200),
)

export type Chapter = v.InferOutput<typeof chapters>[number]

/** Hours may be left out; minutes and seconds below sixty, as in WebVTT's timestamps (W3C, 4.1), where hours stand before them. */
const line = /^\s*(?:(\d{1,2}):)?(\d{1,3}):([0-5]\d)(?:\.\d{1,3})?\s*[-–—]?\s*(.*)$/

/** Reads chapters from lines; what isn't one is told. In the order of time, one for each second. */
export function readChapters(text: string): { readonly chapters: Chapter[]; readonly refused: string[] } {
  const found = new Map<number, Chapter>()
  const refused: string[] = []
  for (const l of text.split(/\r?\n/)) {
    if (!l.trim()) continue
    const [, h, m, s, title] = line.exec(l) ?? []
    const at = Number(h ?? 0) * 3600 + Number(m) * 60 + Number(s)
    if (m === undefined || !title?.trim() || (h !== undefined && Number(m) > 59)) refused.push(l.trim())
    else found.set(at, { at, title: title.trim().slice(0, 160) })
  }
  return { chapters: [...found.values()].sort((a, b) => a.at - b.at).slice(0, 200), refused }
}

/** An instant of a video: "1:30", "1:02:03". */
export function clock(seconds: number): string {
  const two = (n: number) => String(n).padStart(2, "0")
  const [h, m, s] = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60, Math.floor(seconds) % 60]
  return h ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`
}

/** Chapters as they are typed. */
export const chapterLines = (all: readonly Chapter[]): string => all.map((c) => `${clock(c.at)} ${c.title}`).join("\n")
