// How long what plays is, read from the file itself.
import { join } from "node:path"
import { parseFile } from "music-metadata"
import type { Context } from "../context"

/** The length of a video or audio file in whole seconds, rounded up; 0 where it doesn't play or doesn't say. */
export async function secondsOf(path: string, type: string): Promise<number> {
  if (!/^(video|audio)\//.test(type)) return 0
  const read = await parseFile(path, { duration: true, skipCovers: true }).catch(() => null)
  const seconds = read?.format.duration ?? 0
  return Number.isFinite(seconds) && seconds > 0 ? Math.min(Math.ceil(seconds), 4_000_000) : 0
}

/** Measures files that were kept before their length was, a few at a time, and with them the lessons that play them. */
export async function measureMedia(s: Context): Promise<void> {
  const rows = await s.db.rows<{ id: number; stored: string; type: string }>(
    "SELECT id, stored, type FROM media WHERE seconds IS NULL ORDER BY id LIMIT 20",
  )
  for (const m of rows) {
    const seconds = await secondsOf(join(/* turbopackIgnore: true */ s.config.mediaFolder, m.stored), m.type)
    await s.db.update("media", m.id, { seconds })
    await s.db.write(
      `UPDATE lesson l SET l.seconds = (SELECT COALESCE(SUM(m.seconds), 0) FROM reference r JOIN media m ON m.id = r.media_id WHERE r.from_lesson_id = l.id AND r.say = 'plays it')
       WHERE l.id IN (SELECT r.from_lesson_id FROM reference r WHERE r.media_id = ? AND r.say = 'plays it')`,
      [m.id],
    )
  }
}
