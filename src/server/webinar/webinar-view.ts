// What a webinar can be set to, as its screen offers it.
import type { Db } from "../db/pool"

export type NamedWebinar = { readonly id: number; readonly name: string }

export type WebinarChoices = {
  readonly offers: readonly NamedWebinar[]
  readonly coupons: readonly NamedWebinar[]
  readonly videos: readonly NamedWebinar[]
  readonly files: readonly NamedWebinar[]
  readonly zones: readonly string[]
}

/** By name; at most 500 of each. A coupon that is over is left out, unless it is chosen. */
export async function webinarChoices(db: Db, chosen: number | null, now: number): Promise<WebinarChoices> {
  const media = (kind: "video" | "file") =>
    db.rows<NamedWebinar>("SELECT id, name FROM media WHERE kind = ? ORDER BY name LIMIT 500", [kind])
  return {
    offers: await db.rows<NamedWebinar>(
      "SELECT id, public_name AS name FROM offer WHERE removed_at IS NULL ORDER BY public_name LIMIT 500",
    ),
    coupons: await db.rows<NamedWebinar>(
      "SELECT id, code AS name FROM coupon WHERE until_at IS NULL OR until_at > ? OR id = ? ORDER BY code LIMIT 500",
      [new Date(now), chosen],
    ),
    videos: await media("video"),
    files: await media("file"),
    zones: Intl.supportedValuesOf("timeZone"),
  }
}
