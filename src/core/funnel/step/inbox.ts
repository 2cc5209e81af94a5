// "Check your inbox": what was asked for begins with a press in the mailbox.
import * as v from "valibot"
import type { Page } from "../../page/document"
import type { StepModule } from "./kind"

export const inbox: StepModule<"confirmed", object> = {
  label: "check your inbox",
  outcomes: { confirmed: { verb: "confirms", done: "confirmed", leads: true } },
  entry: false,
  hasPage: true,
  settings: v.object({}),
  firstPage: () => inboxPage,
  refs: () => [],
  free: true,
  waitsForMailbox: true,
  needsMail: "nobody could ever confirm, and no e-mail would come",
}

const pageSaying = (html: string): Page => ({
  version: 1,
  title: "Check your inbox",
  blocks: [
    { id: "head", kind: "headline", text: "One more step: look into your inbox" },
    { id: "text", kind: "text", html },
    {
      id: "help",
      kind: "list",
      items: [
        "It can take a minute.",
        "Not there? Look in the spam folder, and move it to your inbox.",
        "A mistake in the address? Go back and send the form again.",
      ],
    },
  ],
})

export const inboxPage = pageSaying(
  "<p>A message from us is on its way to you. Press the link in it, and the first lesson is open.</p>",
)

/** For whoever has asked to recommend something. */
export const inboxForAffiliates = pageSaying(
  "<p>A message from us is on its way to you. Press the link in it, and we know that it is you who asks.</p>",
)

/** For whoever has asked to be told when something opens. */
export const inboxForWaiting = pageSaying(
  "<p>A message from us is on its way to you. Press the link in it, and we know where to write when it opens.</p>",
)
