// Who acts, and what they may. The one place that answers "may this person?".

export type Actor =
  | { readonly is: "account"; readonly id: number }
  /** Somebody in the learning area: with all they have, or only with what the orders of this device gave. */
  | { readonly is: "person"; readonly id: number; readonly scope: string | null }
  | { readonly is: "affiliate"; readonly id: number }
  /** The school itself, doing what is due. */
  | { readonly is: "worker" }
  /** A stranger: whoever has shown nothing yet. */
  | { readonly is: "nobody" }

export const nobody: Actor = { is: "nobody" }
export const theWorker: Actor = { is: "worker" }

/** As kept beside what they did: `account:3`, `person:12`, `worker`; null for a stranger. */
export function actorText(actor: Actor): string | null {
  if (actor.is === "nobody") return null
  return "id" in actor ? `${actor.is}:${actor.id}` : actor.is
}

/** What somebody wants to do. `on` names whose it is, where it is somebody's. */
const rules = {
  /** See and change everything of the school. */
  "work in the studio": (actor) => actor.is === "account",
  /** Open what one was let into. */
  learn: (actor) => actor.is === "person",
  /** See what a person bought, change the card, end a plan: only who has shown the mailbox to be theirs. */
  "see orders of": (actor, person) =>
    actor.is === "account" || (actor.is === "person" && actor.id === person && actor.scope === null),
} as const satisfies Record<string, (actor: Actor, person: number | null) => boolean>

export type Act = keyof typeof rules

/** Whether somebody may do something, to something of a person's where it is anybody's. */
export function may(actor: Actor, act: Act, on: { readonly person: number | null } = { person: null }): boolean {
  return rules[act](actor, on.person)
}
