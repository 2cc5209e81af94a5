// Whether captions are what their format says (WebVTT, W3C): one that is only nearly so shows nothing in one browser, and half in another.
import { readFile, stat } from "node:fs/promises"
import webvtt from "webvtt-parser"
import { refusals } from "@/core/words/refusals"

/** The largest captions, bytes: a day of talk has less. */
const largest = 2e6

/** What is wrong with a file of captions, by its first line that is; null: nothing. */
export async function captionsProblem(path: string): Promise<string | null> {
  if ((await stat(path)).size > largest) return refusals.file.captionsLarge
  const text = (await readFile(path, "utf8")).replace(/^\uFEFF/, "")
  const [first] = new webvtt.WebVTTParser().parse(text, "subtitles").errors
  return first ? refusals.file.captions(first.line, first.message) : null
}
