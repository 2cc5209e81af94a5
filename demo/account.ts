// The demo's sign-in: printed at the start, and offered on the sign-in page of the demo only.
import type { Db } from "@/server/db/pool"

export const demoAccount = { email: "maren@junipercrock.example", password: "brine before breakfast" } as const

export async function isDemoLoaded(db: Db): Promise<boolean> {
  return (await db.row("SELECT 1 FROM heartbeat WHERE name = 'demo loaded'")) !== undefined
}
