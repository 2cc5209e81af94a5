// What a page is written into: finished HTML, and between it what only the moment knows.
import type { Html } from "../html"
import type { AskedField } from "../person/field"

/** What is filled in when the page is answered. All are empty on a first look. */
export type Slot = "error" | "email" | "name"

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

/** A part of a lesson, made for its learner: what plays, is taken away, or is asked. */
export type LessonPart = {
  readonly part: "player" | "audio" | "download" | "quiz" | "survey" | "recommend" | "assignment" | "embed"
  readonly block: string
}

/** A field that a form asks for. It shows again what was typed. */
export type AskPiece = { readonly ask: AskedField }

export type Piece = string | { readonly slot: Slot } | AskPiece | Part | LessonPart

export class Writer {
  readonly pieces: Piece[] = []
  text({ text }: Html) {
    const last = this.pieces.at(-1)
    if (typeof last === "string") this.pieces[this.pieces.length - 1] = last + text
    else this.pieces.push(text)
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
