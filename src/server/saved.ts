// What saving something comes to: it stands, or it is refused in words, with the field that is to be mended.

import * as v from "valibot"
import { refusals } from "@/core/words/refusals"

export type Refused = { readonly refused: string; readonly field?: string }
export type Saved = { readonly ok: true } | Refused
/** The same for what may be new: its number. */
export type Made = { readonly ok: true; readonly id: number } | Refused

export const ok = { ok: true } as const
export const gone: Refused = { refused: refusals.gone.thing }

/** The first thing that is wrong with what was typed. */
export function refusal(issues: [v.BaseIssue<unknown>, ...v.BaseIssue<unknown>[]]): Refused {
  return { refused: issues[0].message, field: v.getDotPath(issues[0]) ?? undefined }
}

export const id = v.pipe(v.number(), v.integer(), v.minValue(1))
