// The kinds of gift, and what is asked of them without knowing which one it is.
import * as v from "valibot"
import type { Ref } from "../../reference"
import { bundle } from "./bundle"
import { course } from "./course"
import { file } from "./file"
import type { FoundGift, GiftModule, GiftOpens, KeptGift } from "./kind"
import { post } from "./post"

const modules = { course, file, offer: bundle, post } as const

export type GiftKind = keyof typeof modules
export type Gift = { [K in GiftKind]: ReturnType<(typeof modules)[K]["read"]> }[GiftKind]
export type GiftInput = { [K in GiftKind]: v.InferOutput<(typeof modules)[K]["input"]> }[GiftKind]

/** Each kind by its name; a gift is handed to its own kind alone. */
export const giftKinds = modules as unknown as Readonly<Record<GiftKind, GiftModule<Gift, GiftInput>>>

export const giftSchema = v.variant("kind", Object.values(modules).map((m) => m.input) as never) as v.GenericSchema<
  unknown,
  GiftInput
>

/** Kinds that are sent by post. */
export const postedKinds = (Object.keys(modules) as GiftKind[]).filter((k) => giftKinds[k].byPost)

export function keepGift(g: GiftInput): KeptGift {
  return { course: null, media: null, part: null, words: "", ...giftKinds[g.kind].keep(g) }
}

export function readGift(kind: GiftKind, found: FoundGift): Gift {
  return giftKinds[kind].read(found)
}

export function giftAsTyped(g: Gift): GiftInput {
  return giftKinds[g.kind].typed(g)
}

/** What buyers are told that they get by it. */
export const giftShown = (g: Gift): string => giftKinds[g.kind].shown?.(g) ?? g.title

/** The same for the same thing, by whichever offer it comes. */
export function giftKey(g: Gift): string {
  return giftKinds[g.kind].key(g)
}

export function opensOf(g: Gift): GiftOpens | null {
  return giftKinds[g.kind].opens(g)
}

/** The course that a gift opens, or null. */
export function courseGiven(g: Gift): number | null {
  const opens = opensOf(g)
  return opens && "course" in opens ? opens.course : null
}

/** The offer that a gift stands for, or null where it gives itself. */
export function offerWithin(g: Gift | GiftInput): number | null {
  return giftKinds[g.kind].within?.(g as Gift) ?? null
}

export function isPosted(g: Gift): boolean {
  return giftKinds[g.kind].byPost === true
}

export function refsOfGift(g: GiftInput): Ref[] {
  return giftKinds[g.kind].refs(g)
}
