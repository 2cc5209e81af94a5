// What preflight's findings say, by their rule: what a visitor would suffer, and the words of what mends it. Names in the data
// are those that the marketer gave; `does`, `gap` and `waits` are words of a kind.

export type SaidOfFinding = { readonly suffers: string; readonly says: string }

type CourseNotReady =
  | { readonly why: "none" }
  | { readonly why: "empty" | "draft"; readonly course: string }
  | { readonly why: "sold-empty"; readonly course: string }
  | { readonly why: "sold-draft"; readonly course: string; readonly empty: boolean }
  | { readonly why: "lesson-draft"; readonly mail: string; readonly lesson: string }

function courseNotReady(d: CourseNotReady): SaidOfFinding {
  switch (d.why) {
    case "none":
      return { suffers: "People reach the learning area and find no course there.", says: "Choose a course" }
    case "empty":
      return {
        suffers: `“${d.course}” opens, and there is nothing in it: no lesson is live.`,
        says: "Put a lesson live",
      }
    case "draft":
      return {
        suffers: `“${d.course}” is still a draft: people who were let in stand before a closed door.`,
        says: "Put the course live",
      }
    case "sold-empty":
      return {
        suffers: `“${d.course}” is sold, and there is nothing in it: no lesson is live.`,
        says: "Put a lesson live",
      }
    case "sold-draft":
      return {
        suffers: `“${d.course}” is sold and is still a draft: people pay and stand before a closed door.`,
        says: d.empty ? "Put a lesson live" : "Put the course live",
      }
    case "lesson-draft":
      return {
        suffers: `“${d.mail}” sends people to the lesson “${d.lesson}”, which is still a draft: they stand before a closed door.`,
        says: "Put the lesson live",
      }
  }
}

type SequenceNotReady =
  | { readonly why: "empty" | "draft"; readonly sequence: string }
  | { readonly why: "blank"; readonly sequence: string; readonly lacks: "text" | "subject" }

type WhyNotReady =
  | "no-date"
  | "no-recording"
  | "no-host"
  | "no-replay"
  | "replay-without-end"
  | "full"
  | "no-meeting"
  | "recording-gone"
  | "offer-over"
  | "offer-before-replay"
  | "coupon-before-deal"

function webinarNotReady(
  d:
    | { why: "none"; step: string }
    | { why: "late-reminder"; sequence: string; webinar: string; step: string }
    | { why: WhyNotReady; webinar: string; step: string },
): SaidOfFinding {
  switch (d.why) {
    case "none":
      return {
        suffers: `“${d.step}” shows nothing: it is of no webinar, or of one that is gone.`,
        says: "Choose the webinar",
      }
    case "no-date":
      return { suffers: `Nobody can register on “${d.step}”: “${d.webinar}” has no date to come.`, says: "Add a date" }
    case "no-recording":
      return {
        suffers: `“${d.webinar}” begins whenever it suits, and nothing plays in its room.`,
        says: "Choose the recording",
      }
    case "no-replay":
      return {
        suffers: `“${d.step}” plays nothing: “${d.webinar}” has no recording yet.`,
        says: "Choose what the replay plays",
      }
    case "replay-without-end":
      return {
        suffers: `“${d.step}” never opens: “${d.webinar}” has no replay.`,
        says: "Say for how many days it is there",
      }
    case "full":
      return {
        suffers: `Nobody can register on “${d.step}”: all seats of “${d.webinar}” are taken.`,
        says: "Add a date, or seats",
      }
    case "no-meeting":
      return {
        suffers: `“${d.webinar}” is to be held live, and no meeting service is connected: nobody will hear anything.`,
        says: "Choose a recording",
      }
    case "recording-gone":
      return {
        suffers: `“${d.webinar}” plays a recording that is gone: its room stays dark.`,
        says: "Choose the recording",
      }
    case "offer-over":
      return {
        suffers: `What “${d.webinar}” leads to is over before its next date begins.`,
        says: "Move the end of the offer",
      }
    case "offer-before-replay":
      return {
        suffers: `What “${d.webinar}” leads to is over before its replay is: whoever watches late can't have it.`,
        says: "Move one of the two ends",
      }
    case "coupon-before-deal":
      return {
        suffers: `Whoever has a seat at “${d.webinar}” is told an end of their price that its coupon doesn't keep: it is over before.`,
        says: "Move the end of the coupon",
      }
    case "late-reminder":
      return {
        suffers: `An e-mail of “${d.sequence}” about the start of “${d.webinar}” may come too late: after it, or to whoever registers on the day.`,
        says: "Leave it out for whoever is late",
      }
    case "no-host":
      return { suffers: `“${d.webinar}” doesn’t say who holds it.`, says: "Name the host" }
  }
}

function sequenceNotReady(d: SequenceNotReady): SaidOfFinding {
  switch (d.why) {
    case "empty":
      return {
        suffers: `“${d.sequence}” begins, and no e-mail ever comes: it is empty.`,
        says: "Write the first e-mail",
      }
    case "draft":
      return {
        suffers: `“${d.sequence}” is still a draft: the promised e-mails don't come.`,
        says: "Put the sequence live",
      }
    case "blank":
      return {
        suffers: `An e-mail of “${d.sequence}” would come without ${d.lacks === "text" ? "a word in it" : "a subject"}.`,
        says: "Finish it",
      }
  }
}

export const findings = {
  "outcome-leads-nowhere": (d: { does: string; step: string; next: string | null }) => ({
    suffers: `Whoever ${d.does} on “${d.step}” is left standing: it leads nowhere.`,
    says: d.next === null ? "Choose where it leads" : `Lead them to “${d.next}”`,
  }),
  "circle-without-way-out": (d: { step: string }) => ({
    suffers: `From “${d.step}” people go round in a circle and never reach what they came for.`,
    says: "Change where it leads",
  }),
  "programme-off": (d: { step: string; offer: string | null }) => ({
    suffers: d.offer
      ? `Nobody can join on “${d.step}”: the programme of “${d.offer}” is off.`
      : `Nobody can join on “${d.step}”: no programme is chosen for it.`,
    says: d.offer ? "Switch the programme on" : "Choose an offer",
  }),
  "programme-lacks": (d: { offer: string; lacks: string }) => ({
    suffers: `Recommending “${d.offer}”: ${d.lacks}`,
    says: "Look at the programme",
  }),
  "form-starts-nothing": (d: { step: string }) => ({
    suffers: `Whoever fills in the form on “${d.step}” gets nothing for it: no course opens and no e-mail comes.`,
    says: "Choose what it sets off",
  }),
  "page-without-form": (d: { step: string; lacks: "form" | "checkout" | "decision" | "catalogue" }) =>
    ({
      form: { suffers: `Nobody can join on “${d.step}”: it has no form.`, says: "Add a form" },
      checkout: {
        suffers: `Nobody can pay on “${d.step}”: it has no checkout form.`,
        says: "Add the checkout form",
      },
      decision: {
        suffers: `Nobody can say yes or no on “${d.step}”: it has no buttons for it.`,
        says: "Add yes and no",
      },
      catalogue: { suffers: `“${d.step}” shows nothing: it has no catalogue.`, says: "Add the catalogue" },
    })[d.lacks],
  "course-not-ready": courseNotReady,
  "sequence-not-ready": sequenceNotReady,
  "webinar-not-ready": webinarNotReady,
  "deadline-not-kept": (d: { step: string; said: string }) => ({
    suffers: `“${d.step}” says “${d.said}”, and nothing ends then: no offer of it has an end, a number of pieces, or a price that ends.`,
    says: "Give the offer an end, or take the words out",
  }),
  "button-without-target": (d: { button: string; on: { step: string } | { mail: string } }) => ({
    suffers:
      "mail" in d.on
        ? `The button “${d.button}” in “${d.on.mail}” leads nowhere, and is left out.`
        : `The button “${d.button}” on “${d.on.step}” does nothing when pressed.`,
    says: "Choose where it leads",
  }),
  "link-without-target": (d: { on: { step: string } }) => ({
    suffers: `A link in a text on “${d.on.step}” leads to a page that is gone.`,
    says: "Choose where it leads",
  }),
  "sequence-cannot-be-left": (d: { sequence: string }) => ({
    suffers: `Readers of “${d.sequence}” find no link to unsubscribe.`,
    says: "Write the line of the link",
  }),
  "sequence-without-sender": (d: { sequence: string }) => ({
    suffers: `Nobody can tell who “${d.sequence}” comes from: the school has no sender yet.`,
    says: "Enter the sender",
  }),
  "address-used-twice": (d: { path: string; step: string; twin: { step: string } | { funnel: string } }) => ({
    suffers: `/${d.path} is the address of two pages, “${d.step}” and ${"step" in d.twin ? `“${d.twin.step}”` : `one of “${d.twin.funnel}”`}: visitors would see only one of them.`,
    says: "Change the address",
  }),
  "address-cannot-stand": (d: { step: string; path: string }) => ({
    suffers: d.path
      ? `“${d.step}” can't be reached: the address /${d.path} can't be used for a page.`
      : `“${d.step}” can't be reached: it has no address.`,
    says: "Change the address",
  }),
  "page-without-title": (d: { step: string }) => ({
    suffers: `“${d.step}” has no title: in the browser's tab and in a search it shows as a bare address.`,
    says: "Write a title",
  }),
  "picture-without-words": (d: { step: string }) => ({
    suffers: `Whoever can't see the picture on “${d.step}” doesn't learn what it shows.`,
    says: "Say what it shows",
  }),
  "offer-missing": (d: { step: string; where: "sale" | "price"; chosen: boolean }) =>
    d.where === "sale"
      ? {
          suffers: d.chosen
            ? `What “${d.step}” sold is no longer on offer: visitors can't have it.`
            : `“${d.step}” sells nothing: no offer is chosen.`,
          says: "Choose an offer",
        }
      : d.chosen
        ? {
            suffers: `“${d.step}” shows the price of something that is no longer on offer.`,
            says: "Choose another offer",
          }
        : { suffers: `“${d.step}” has a price of no offer: visitors see nothing there.`, says: "Choose an offer" },
  "price-of-another": (d: { step: string; offer: string; funnel: string }) => ({
    suffers: `“${d.step}” says what “${d.offer}” costs, and nothing in “${d.funnel}” sells it.`,
    says: "Show the price of what is sold here",
  }),
  "offer-gives-nothing": (d: { offer: string; step: string }) => ({
    suffers: `Whoever gets “${d.offer}” on “${d.step}” gets nothing for it.`,
    says: "Say what it gives",
  }),
  "offer-not-to-be-had": (d: { offer: string; step: string; state: "sold-out" | "over" | "not-yet" }) => ({
    suffers: {
      "sold-out": `“${d.offer}” is sold out: visitors of “${d.step}” can't have it.`,
      over: `“${d.offer}” is over: visitors of “${d.step}” can't have it.`,
      "not-yet": `“${d.offer}” can't be had yet: visitors of “${d.step}” are told so.`,
    }[d.state],
    says: "Look at its limits",
  }),
  "paid-form-charges-nothing": (d: { step: string; offer: string; choice: boolean }) =>
    d.choice
      ? {
          suffers: `On “${d.step}” people choose between paying for “${d.offer}” and having it for nothing.`,
          says: "Take the free terms off",
        }
      : {
          suffers: `“${d.step}” is a checkout, and “${d.offer}” costs nothing: it works as a sign-up.`,
          says: "Look at its terms",
        },
  "free-form-gives-paid": (d: { course: string; offer: string }) => ({
    suffers: `“${d.course}” opens to everyone who joins on a free form, and “${d.offer}” sells it: buyers paid for what others get for nothing.`,
    says: "Take it off the free form",
  }),
  "no-processor": (d: { step: string }) => ({
    suffers: `Nobody can pay on “${d.step}”: no card processor is set up.`,
    says: "See how to set one up",
  }),
  "no-statement-text": (d: { statement: string; problem: string }) => ({
    suffers: d.statement
      ? `Buyers wouldn't know the charge on their card statement: “${d.statement}” can't stand there. ${d.problem}`
      : "Buyers wouldn't know the charge on their card statement: it has no text yet.",
    says: "Write the statement text",
  }),
  "no-legal-pages": (d: { missing: readonly string[] }) => ({
    suffers: `Buyers can’t read who they buy from and on what terms: ${new Intl.ListFormat("en", { type: "conjunction" }).format(d.missing)} ${d.missing.length === 1 ? "isn’t" : "aren’t"} published.`,
    says: "Write the legal pages",
  }),
  "currencies-mixed": (d: { funnel: string; currencies: readonly string[] }) => ({
    suffers: `One way through “${d.funnel}” asks for ${d.currencies.join(" and ")}: buyers see amounts they can't compare, and sums can't be made.`,
    says: "Choose offers of one currency",
  }),
  "offer-twice-on-a-path": (d: { offer: string; first: string; second: string }) => ({
    suffers: `“${d.offer}” is offered twice on one way: on “${d.first}” and on “${d.second}”. The second is passed over.`,
    says: "Choose another offer",
  }),
  "already-in-the-bundle": (d: { bundle: string; offer: string; step: string }) => ({
    suffers: `Whoever took “${d.bundle}” has everything in “${d.offer}” already, and is asked to pay for it on “${d.step}”.`,
    says: "Choose another offer",
  }),
  "second-chance-not-cheaper": (d: { first: string; second: string }) => ({
    suffers: `Whoever declined “${d.first}” is offered “${d.second}”, which costs no less.`,
    says: "Make it cheaper",
  }),
  "no-card-to-charge": (d: { step: string }) => ({
    suffers: `Accepting on “${d.step}” can't be charged with one click: some come there without having used a card.`,
    says: "Let it follow a paid checkout",
  }),
  "path-misses-the-welcome": (d: { does: string; step: string }) => ({
    suffers: `Whoever ${d.does} on “${d.step}” never reaches the welcome page: no proof that it worked, and no way to get in.`,
    says: "Lead them there",
  }),
  "many-further-offers": (d: { n: number }) => ({
    suffers: `Somebody may be asked ${d.n} times in a row before they are let in to what they bought. One or two are enough.`,
    says: "Look at the way",
  }),
  "no-mail-server": (d: { refused: string | null; waits: string }) =>
    d.refused === null
      ? { suffers: `No mail server is connected: ${d.waits}.`, says: "See how to connect one" }
      : { suffers: `The mail server takes nothing (${d.refused}): ${d.waits}.`, says: "Look at the mail server" },
  "words-to-write": (d: { step: string; gap: string; mend: string | null }) => ({
    suffers: `Visitors of “${d.step}” would see an unfinished page: ${d.gap}.`,
    says: d.mend ?? "Finish it",
  }),
  "wrong-sum": (
    d:
      | { step: string; said: string; course: string; lessons: number }
      | { mail: string; sequence: string; mails: number },
  ) =>
    "mail" in d
      ? {
          suffers: `The e-mail “${d.mail}” counts wrong: ${d.mails} e-mails of “${d.sequence}” bring lessons.`,
          says: "Count them anew",
        }
      : {
          suffers: `“${d.step}” speaks of “${d.said}”, and “${d.course}” has ${d.lessons}.`,
          says: "Correct it",
        },
  "course-closed": (d: { course: string }) => ({
    suffers: `“${d.course}” is closed to newcomers, and here people go on coming into it.`,
    says: "Open it, or take this off the web",
  }),
  "sign-up-closed": (d: { course: string; step: string }) => ({
    suffers: `Signing up for “${d.course}” is closed: whoever fills in the form on “${d.step}” is told so, and gets nothing.`,
    says: "Open it, or take this off the web",
  }),
  "lesson-never-opens": (d: { lesson: string; course: string }) => ({
    suffers: `“${d.lesson}” in “${d.course}” can never open: it waits for itself in a circle.`,
    says: "Look at what opens when",
  }),
  "lesson-empty": (d: { lesson: string; more: number; course: string }) => ({
    suffers: `“${d.lesson}”${d.more ? ` and ${d.more} more ${d.more === 1 ? "lesson" : "lessons"}` : ""} in “${d.course}” ${d.more ? "are" : "is"} live with nothing in ${d.more ? "them" : "it"}: learners open an empty page.`,
    says: d.more ? "Write them" : "Write it",
  }),
  "gate-leads-nowhere": (d: { page: string; course: string }) => ({
    suffers: `Whoever may not open “${d.course}” is to be led to “${d.page}”, which isn't live: they meet a note above the lessons instead.`,
    says: "Choose another gate",
  }),
  "nobody-reaches-it": (d: { step: string }) => ({
    suffers: `Nobody can reach “${d.step}”: no outcome leads to it.`,
    says: "Lead somebody there, or remove it",
  }),
  "lesson-without-mail": (d: { lesson: string; course: string; sequence: string; live: boolean }) =>
    d.live
      ? {
          suffers: `“${d.lesson}” is live in “${d.course}”, and no e-mail of “${d.sequence}” brings it.`,
          says: "Write the mail for the new lesson",
        }
      : {
          suffers: `“${d.lesson}” is still a draft in “${d.course}”, so it was left out: nobody sees it, and no e-mail brings it.`,
          says: "Look at the lesson",
        },
} satisfies Record<string, (d: never) => SaidOfFinding>
