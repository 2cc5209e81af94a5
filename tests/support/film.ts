// A video as if it had been uploaded, for webinars that play one.
import type { Context } from "@/server/context"

/** @param seconds how long it is */
export async function filmOf(s: Context, seconds = 3600): Promise<number> {
  const { id } = await s.db.write(
    "INSERT INTO media (kind, type, name, stored, size, seconds, made_at) VALUES ('video', 'video/mp4', 'film.mp4', ?, 1000, ?, ?)",
    [`film-${Math.random().toString(36).slice(2)}.mp4`, seconds, new Date(await s.clock.now())],
  )
  return id
}
