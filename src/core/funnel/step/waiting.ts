// "You are on the list": where whoever asked to be told has come to, and rests.
import * as v from "valibot"
import type { Page } from "../../page/document"
import type { StepModule } from "./kind"

export const waiting: StepModule<never, object> = {
  label: "waiting list",
  outcomes: {},
  entry: false,
  hasPage: true,
  settings: v.object({}),
  firstPage: () => waitingPage,
  refs: () => [],
}

export const waitingPage: Page = {
  version: 1,
  title: "You are on the list",
  blocks: [
    { id: "head", kind: "headline", text: "You are on the list" },
    {
      id: "text",
      kind: "text",
      html: "<p>As soon as it opens, an e-mail tells you, with the way there. Until then there is nothing to do.</p>",
    },
  ],
}
