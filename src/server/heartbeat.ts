// A process shows that it is there, and how it finds things.
import type { Context } from "./context"

export async function beat(s: Context, name: string, note = ""): Promise<void> {
  await s.db.insert(
    "heartbeat",
    { name, beat_at: new Date(), note },
    "ON DUPLICATE KEY UPDATE beat_at = VALUES(beat_at), note = VALUES(note)",
  )
}
