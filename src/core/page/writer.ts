// What a page is written into: finished HTML, and between it what only the moment knows.
import { type Html, html, raw } from "../html"
import type { AskedField } from "../person/field"
import type { Figure } from "./figures"

/** What is filled in when the page is answered: what was typed, empty on a first look, and where the school stands. */
export type Slot = "error" | "email" | "name" | "origin"

/** A part that is made anew for each look: a price, a checkout's form, a further offer's yes and no, the proof. */
export type Part =
  | { readonly part: "price"; readonly offer: number }
  | { readonly part: "checkout"; readonly block: string }
  | { readonly part: "decision"; readonly block: string }
  | { readonly part: "proof"; readonly block: string }
  | { readonly part: "dates"; readonly webinar: number }
  | { readonly part: "seat"; readonly webinar: number }
  | { readonly part: "replay"; readonly webinar: number }
  | { readonly part: "conditions"; readonly offer: number }
  | { readonly part: "amount"; readonly offer: number }
  | { readonly part: "comparison"; readonly offer: number }
  | { readonly part: "announcement"; readonly offer: number; readonly says: string }
  | { readonly part: "countdown"; readonly offer: number; readonly pieces: boolean }
  | { readonly part: "price-end"; readonly offer: number }
  | {
      readonly part: "catalogue"
      readonly items: readonly ({ readonly course: number } | { readonly offer: number })[]
      readonly consent: string
    }
  | { readonly part: "figures"; readonly course: number; readonly show: readonly Figure[] }
  | { readonly part: "quotes"; readonly course: number; readonly most: number; readonly title: string }
  | { readonly part: "guarantee"; readonly offer: number }

/** A part of a lesson, made for its learner: what plays, is taken away, or is asked. */
export type LessonPart = {
  readonly part: "player" | "audio" | "download" | "quiz" | "survey" | "recommend" | "assignment" | "embed"
  readonly block: string
}

/** A field that a form asks for. It shows again what was typed. */
export type AskPiece = { readonly ask: AskedField }

/** Whom something is for: whoever is in a segment, or whoever isn't. */
export type SeenBy = { readonly segment: number; readonly are: boolean }

/** What stands in the page of those alone whom it is for. */
export type HeldPiece = { readonly seenBy: SeenBy; readonly pieces: readonly Piece[] }

export type Piece = string | { readonly slot: Slot } | AskPiece | Part | LessonPart | HeldPiece

/** A heading over what follows; nothing where it is empty. */
export const titled = (title: string, says: Html = html``): Html =>
  title.trim() ? html`<h2${says} dir="auto">${title}</h2>` : html``

/** Plain text as paragraphs, by its line ends. */
export function lines(text: string, mark?: Html): Html[] {
  const all = text.split(/\n+/).flatMap((l) => l.trim() || [])
  if (mark?.text && all.length < 2) return [html`<p${mark} dir="auto">${all[0] ?? ""}</p>`]
  return all.map((l) => html`<p dir="auto">${l}</p>`)
}

export class Writer {
  readonly pieces: Piece[] = []
  text({ text }: Html) {
    const last = this.pieces.at(-1)
    if (typeof last === "string") this.pieces[this.pieces.length - 1] = last + text
    else this.pieces.push(text)
  }
  /** What was written elsewhere. */
  piece(piece: Piece) {
    if (typeof piece === "string") this.text(raw(piece))
    else this.pieces.push(piece)
  }
  slot(slot: Slot) {
    this.pieces.push({ slot })
  }
  ask(ask: AskedField) {
    this.pieces.push({ ask })
  }
  part(part: Part | LessonPart) {
    this.pieces.push(part)
  }
}
