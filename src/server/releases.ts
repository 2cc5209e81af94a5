// What has been published in one database: releases of funnels, and versions of sequences.
import type { Funnel } from "@/core/funnel/draft"
import { readFunnel } from "@/core/funnel/read"
import type { CompiledPage } from "@/core/page/compile"
import { readDocument, type SequenceDocument } from "@/core/sequence/document"
import type { Db } from "./db/pool"
import { Kept } from "./kept"

export type Release = { readonly id: number; readonly funnel: Funnel; readonly pages: readonly CompiledPage[] }

/** What was put live of a sequence. */
export type SequenceVersion = { readonly id: number; readonly sequence: number; readonly document: SequenceDocument }

export class Releases {
  readonly funnels = new Kept<Release>(readRelease)
  readonly sequences = new Kept<SequenceVersion>(readVersion)

  /** Numbers begin anew in an emptied database. */
  forget(): void {
    this.funnels.forget()
    this.sequences.forget()
  }
}

async function readRelease(db: Db, id: number): Promise<Release | undefined> {
  const row = await db.row<{ snapshot: string; pages: string }>("SELECT snapshot, pages FROM `release` WHERE id = ?", [
    id,
  ])
  return row && { id, funnel: readFunnel(JSON.parse(row.snapshot)), pages: JSON.parse(row.pages) as CompiledPage[] }
}

async function readVersion(db: Db, id: number): Promise<SequenceVersion | undefined> {
  const row = await db.row<{ sequence_id: number; snapshot: string }>(
    "SELECT sequence_id, snapshot FROM sequence_version WHERE id = ?",
    [id],
  )
  return row && { id, sequence: row.sequence_id, document: readDocument(JSON.parse(row.snapshot)) }
}

/** A release by its number, in the database that is asked. */
export function releaseById(db: Db, id: number): Promise<Release | undefined> {
  return db.context.releases.funnels.byId(db, id)
}

/** A version of a sequence by its number. */
export function versionById(db: Db, id: number): Promise<SequenceVersion | undefined> {
  return db.context.releases.sequences.byId(db, id)
}
