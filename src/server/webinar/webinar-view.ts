// What a webinar can be set to, as its screen offers it.
import type { Db } from "../db/pool"

type Named = { readonly id: number; readonly name: string }

export type WebinarChoices = {
  readonly offers: readonly Named[]
  readonly recordings: readonly Named[]
  readonly zones: readonly string[]
}

/** By name; at most 500 of each. */
export async function webinarChoices(db: Db): Promise<WebinarChoices> {
  return {
    offers: await db.rows<Named>(
      "SELECT id, public_name AS name FROM offer WHERE removed_at IS NULL ORDER BY public_name LIMIT 500",
    ),
    recordings: await db.rows<Named>("SELECT id, name FROM media WHERE kind = 'video' ORDER BY name LIMIT 500"),
    zones: Intl.supportedValuesOf("timeZone"),
  }
}
