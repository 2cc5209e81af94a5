"use server"

import * as v from "valibot"
import { type Answer, answered } from "@/app/answer"
import { studio } from "@/app/guard"
import { type Page, readPage } from "@/core/page/document"
import { locale } from "@/core/words/locale"
import { lookIn } from "@/server/page/open"
import { nameVersion, type PageOf, pageOf, readVersion, versionBefore, versionsOf } from "@/server/page/version"
import type { Refused } from "@/server/saved"
import { schoolZone } from "@/server/school-view"

/** A version as it is listed: when it was, in the school's zone. */
export type Listed = {
  readonly id: number
  readonly at: string
  readonly name: string | null
  readonly who: string | null
}

export async function versionsAction(of: PageOf): Promise<Listed[]> {
  const s = await studio()
  const zone = await schoolZone(s.db)
  const versions = await versionsOf(s.db, v.parse(pageOf, of))
  const short = new Intl.DateTimeFormat(locale, { timeZone: zone, dateStyle: "medium", timeStyle: "short" })
  return versions.map((x) => ({ ...x, at: short.format(x.at) }))
}

export async function versionAction(of: PageOf, id: number): Promise<{ readonly page: Page } | Refused> {
  return readVersion((await studio()).db, v.parse(pageOf, of), Number(id))
}

export const nameVersionAction = async (of: PageOf, id: number, name: string): Promise<Answer> =>
  answered(nameVersion(await studio(), v.parse(pageOf, of), Number(id), name))

/** Who else has it open, with since when in the school's zone, and the page where it has changed. */
export async function lookInAction(of: PageOf, window: string, revision: number) {
  const s = await studio()
  const found = await lookIn(s, v.parse(pageOf, of), window, Number(revision))
  const time = new Intl.DateTimeFormat(locale, { timeZone: await schoolZone(s.db), timeStyle: "short" })
  return found && { now: found.now, others: found.others.map((o) => ({ ...o, since: time.format(o.since) })) }
}

export async function versionBeforeAction(of: PageOf, before: number | null, now: Page) {
  return versionBefore((await studio()).db, v.parse(pageOf, of), before, readPage(now))
}
