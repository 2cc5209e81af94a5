// Saving what two windows may have open: what each changed is merged by field, and a real clash is told instead of decided.
import { mergeFields } from "@/core/merge"
import type { Refused } from "./saved"

/** What a window had before it when it was changed: the revision, and the fields as they were then. */
export type Before = { readonly revision: number; readonly value: unknown }

export type Stored<T> = { readonly revision: number; readonly value: T }

export type ClashOf<T> = { readonly clash: readonly string[]; readonly theirs: T; readonly revision: number }

/** Saved, with what now stands there; or two windows changed the same; or refused. */
export type SavedShared<T> = Stored<T> | ClashOf<T> | Refused

/** What is to be written, or what clashes. Without `before` mine is written. */
export function reconcile<T extends object>(
  mine: T,
  stored: Stored<T>,
  before: Before | undefined,
): { readonly write: T } | ClashOf<T> {
  if (!before || before.revision === stored.revision || typeof before.value !== "object" || before.value === null)
    return { write: mine }
  const { merged, clashes } = mergeFields({ ...stored.value, ...before.value } as T, mine, stored.value)
  return clashes.length ? { clash: clashes, theirs: stored.value, revision: stored.revision } : { write: merged }
}
