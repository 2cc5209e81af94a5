// A page to read, with one way on and no form: an article, a replay, "before you go".
import * as v from "valibot"
import type { Page } from "../../page/document"
import { placeholders } from "../../page/placeholder"
import type { StepModule } from "./kind"

export const letter: StepModule<"went-on", object> = {
  label: "letter",
  outcomes: { "went-on": { verb: "goes on", done: "went on", leads: true, byLooking: true } },
  entry: true,
  hasPage: true,
  settings: v.object({}),
  firstPage: () => letterPage,
  refs: () => [],
  insert: { offer: false, afterSale: false, nameOf: () => "Letter" },
  followedBy: "sales",
}

const letterPage: Page = {
  version: 1,
  title: "A letter",
  blocks: [
    { id: "head", kind: "headline", text: placeholders.headline },
    { id: "text", kind: "text", html: `<p>${placeholders.text}</p>` },
    { id: "on", kind: "button", says: "Go on", leads: { to: "outcome", outcome: "went-on" } },
  ],
}
