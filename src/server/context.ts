// What a use case works with, as one value: nothing reaches for a global, so a test or a second process brings its own.
// It is put together in open.ts.
import type pino from "pino"
import type { Actor } from "@/core/person/actor"
import type { Words } from "@/core/words/en"
import type { Clock } from "./clock"
import type { Config } from "./config"
import type { Database } from "./db/pool"
import type { CardProcessor } from "./port/cards"
import type { Mailer } from "./port/mailer"
import type { Meeting } from "./port/meeting"
import type { Releases } from "./releases"

export type Context = {
  readonly db: Database
  readonly clock: Clock
  readonly config: Config
  readonly mailer: Mailer
  readonly cards: CardProcessor | null
  readonly meeting: Meeting | null
  readonly log: pino.Logger
  /** Who acts: what they do is written down as theirs. */
  readonly actor: Actor
  /** What has been published in this database. */
  readonly releases: Releases
  /** What people are told, in the language of the school. */
  readonly words: Words
}

/** the same context, for somebody who acts. */
export function actingAs<S extends Pick<Context, "db" | "actor">>(s: S, actor: Actor): S {
  return { ...s, actor, db: s.db.as(actor) }
}

export async function closeContext(s: Context): Promise<void> {
  s.mailer.close()
  await s.db.end()
}
