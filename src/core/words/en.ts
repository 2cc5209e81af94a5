// The message catalogue: what visitors, readers and learners are told by the product itself, in British-neutral English.

import { html } from "../html"
import { findings } from "./findings"
import { isolate } from "./isolate"
import { locale } from "./locale"
import { refusals } from "./refusals"
import { storyWords } from "./story"

export const words = {
  findings,
  refusals,
  story: storyWords,
  webinar: {
    when: "When",
    zone: "Times in",
    noDates: "There is no date just now. Look in again soon.",
    seatsLeft: (n: number) => (n === 0 ? "full" : n === 1 ? "1 seat left" : `${n} seats left`),
    chooseDate: "Choose a date, please.",
    full: "All seats of that date are taken. Choose another date, please.",
    noSeat: "All seats of that date are taken by now, and no other date has one free.",
    lasts: (minutes: number) => `${minutes} minutes`,
    lookIntoInbox:
      "An e-mail is on its way to you. Open it within an hour: the link in it makes sure of your seat, and leads to the room.",
    seated: "This seat is yours. The way into the room is in your inbox, too.",
    calledOff: "This date has been called off. Choose another one, if you like.",
    room: "To the room",
    addToCalendar: "Add it to my calendar",
    confirmSubject: (title: string) => `One press, and your seat is yours: ${title}`,
    confirmText: (name: string, title: string, when: string) =>
      `${name ? `Hello ${name},` : "Hello,"}\n\nyou asked for a seat at “${title}”, ${when}. Press the button, and it is yours. It is held for you for an hour.`,
    confirmButton: "Take my seat",
    seatSubject: (title: string, when: string) => `Your seat: ${title}, ${when}`,
    seatText: (name: string, title: string, when: string) =>
      `${name ? `Hello ${name},` : "Hello,"}\n\nyour seat at “${title}” is yours: ${when}.`,
    movedSubject: (title: string, when: string) => `Another date: ${title}, now ${when}`,
    movedText: (name: string, title: string, when: string) =>
      `${name ? `Hello ${name},` : "Hello,"}\n\nyour seat at “${title}” has moved. It is now on ${when}. The way into the room stays the same.`,
    calledOffSubject: (title: string, when: string) => `Called off: ${title}, ${when}`,
    calledOffText: (name: string, title: string, when: string) =>
      `${name ? `Hello ${name},` : "Hello,"}\n\n“${title}” on ${when} has been called off. We are sorry.`,
    seatButton: "To the room",
    beginsAt: "It begins",
    opensAt: (when: string) => `The room opens on ${when}.`,
    goIn: "Go in",
    with: (host: string) => `With ${host}`,
    soundOn: "Turn the sound on",
    noRecording: "The host is about to begin.",
    needsScript: "The room needs scripts, which are off in this browser.",
    plainWhen: "It begins",
    plainReplay: "Afterwards its replay is here.",
    captions: "Captions",
    handout: "Hand-out",
    ofVotes: " of ",
    yoursUntil: (until: string) => `This is what it costs for your seat, until ${until}.`,
    replayUntil: (until: string) => `The replay is there until ${until}.`,
    toReplay: "To the replay",
    replayFor: (days: number | null) =>
      days === null
        ? "There is no replay: it is seen when it is held."
        : days === 0
          ? "Whoever registers gets the replay, to the end of that day."
          : `Whoever registers gets the replay, for ${days === 1 ? "one day" : `${days} days`} afterwards.`,
    chapters: "Chapters",
    replayForSeats:
      "The replay is for those who had a seat. Open the link in your e-mail on this device, and it is here.",
    replayAfter: "The replay is here once the webinar is over. It begins",
    replayOver: (until: string) => `The replay was there until ${until}.`,
    replayMissing: "The replay is being prepared. Come back in a while.",
    answerSubject: (title: string) => `Your question at “${title}”`,
    answerText: (name: string, question: string, answer: string, host: string) =>
      `${name ? `Hello ${name},` : "Hello,"}\n\nyou asked:\n\n“${question}”\n\n${answer}${host ? `\n\n${host}` : ""}`,
    over: "This webinar is over.",
    elsewhere: "You are in the room on another device",
    elsewhereText: "Leave it there, wait a minute, and press again. Or sign in here first, which shows that it is you.",
    toOffer: "Have a look",
    chat: "Chat",
    said: "What is said",
    onlyHost: "Only the host sees what you write.",
    saySomething: "Say something",
    isQuestion: "It is a question",
    send: "Send",
    you: "You",
    somebody: "Somebody",
    asks: "asks:",
    ask: "ask:",
    notSent: "That could not be sent. Try again.",
    seatAfter: "This is your own way in: whoever opens it comes in as you.",
  },
  ahead: {
    noMeeting: (title: string, when: string) =>
      `“${title}” is to be held live on ${when}, and no meeting service is connected.`,
    offerGone: (title: string, when: string) =>
      `“${title}” on ${when} leads to an offer that can't be had when it is shown.`,
    couponEnds: (title: string, when: string) =>
      `The coupon of “${title}” on ${when} is over before the end that whoever has a seat is told.`,
    noPage: (title: string, when: string) => `Nobody can register for “${title}” on ${when}: no page for it is live.`,
    noReplayPage: (title: string, when: string) =>
      `Whoever misses “${title}” on ${when} finds no replay: no page for it is live.`,
    noReminders: (title: string, when: string) => `A sequence that waits for “${title}” on ${when} is not live.`,
    open: "Open the webinar",
    unanswered: (n: number, title: string) =>
      `${n === 1 ? "One question" : `${n} questions`} from “${title}” ${n === 1 ? "waits" : "wait"} for an answer.`,
    read: "Read and answer",
  },
  calendar: {
    webinar: (n: number) =>
      n === 0
        ? "Nobody has registered for it: nothing else changes."
        : `${n === 1 ? "1 person has a seat: it moves" : `${n} people have seats: they move`} along, and ${n === 1 ? "they are" : "each of them is"} written to, with a new entry for their calendar.`,
    broadcast: "It is a draft: nothing goes out until it is planned.",
    offerBegin: (name: string) => `“${name}” is on sale from then on, and not before.`,
    offerEnd: (name: string, sequences: number) =>
      `“${name}” is on sale until then. Pages and e-mails say the new end.${sequences === 0 ? "" : sequences === 1 ? " One sequence waits for it." : ` ${sequences} sequences wait for it.`}`,
    coupon: (code: string) =>
      `What “${code}” takes off counts by the new time. Orders that were placed stay as they are.`,
  },
  page: {
    firstName: "First name",
    email: "E-mail address",
    honeypot: "Leave this field empty",
    pictureMissing: "A picture comes here.",
    videoMissing: "A video comes here.",
    yes: "Yes",
    no: "No",
    choose: "Please choose",
    proofSample: "What was bought is shown here, with the button that opens it.",
    datesSample: "The next dates are shown here, each to choose, in the visitor’s own time.",
    replaySample: "The replay plays here, with its chapters, until when it is there, and the offer at its minute.",
    whoTeaches: "Who teaches",
    captions: "Captions",
    showFrom: (host: string) => `Show it, from ${host}, which then learns that you are here`,
    portraitOf: (name: string) => `Portrait of ${name}`,
    aLearner: "A learner",
    freeLesson: "free to watch",
    moreLessons: (n: number, hours: string) => `${n} more lessons${hours && `, ${hours}`}`,
    figures: {
      learners: () => "learners so far",
      lately: () => "joined in the last 30 days",
      lessons: (n: number) => (n === 1 ? "lesson" : "lessons"),
      hours: (n: number) => (n === 1 ? "hour" : "hours"),
      names: (first: readonly string[]) =>
        `${new Intl.ListFormat(locale, { type: "conjunction" }).format(first)} joined in the last 30 days.`,
      rating: (most: number, people: number) => `of ${most}, say ${people} learners`,
    },
    seatSample: "The date they chose is shown here, for their calendar, with the way into the room.",
  },
  join: {
    badEmail:
      "That doesn't look like an e-mail address. Please check it: it needs an @ and a domain, like maren@school.example.",
    badName: "Please keep your first name to 80 characters, on one line.",
    answerMissing: (label: string) => `Please answer “${label}”.`,
    badAnswer: (label: string) => `Please check your answer to “${label}”.`,
    tooMany: "Too many different addresses came from your connection. Please try again in an hour.",
    closed: (course: string) =>
      `Signing up for “${course}” is closed just now. If you are in already, sign in at the learning area.`,
    foreign: "This form was sent from another site",
    foreignText: "To join, please open the page itself and send its form there.",
    changed: "This page has changed since you opened it. Please look at it again, and send the form once more.",
    tooLong: "That was more than this form takes.",
    sent: "Please look into your inbox",
    sentText:
      "If the address is right, a message is on its way to it. Press the link in it to go on. It can take a minute, and now and then it lands in the spam folder.",
  },
  inbox: {
    sentTo: (email: string) => html`We wrote to <strong dir="auto">${email}</strong>.`,
    late: "Nothing there after a minute?",
    once: "Send it once more",
    soon: "It was sent a moment ago. Give it a minute, then press again.",
    again: "It is on its way once more. If it doesn’t come, look in the spam folder, or go back and check the address.",
  },
  home: {
    given: "Free",
    get: "Get it",
    webinars: "Webinars",
    seat: "Take a seat",
    courses: "Courses",
    look: "Look at it",
    zone: (city: string) => `${city} time`,
    nothing: "Nothing is on here just now.",
    learn: "My courses",
  },
  catalogue: {
    soon: "It can’t be had just now.",
    tell: "Tell me when it opens",
    send: "Tell me",
    confirmSubject: (course: string) => `One press, and you hear when “${course}” opens`,
    confirmText: (name: string, course: string) =>
      `${name ? `Hello ${name}` : "Hello"},\n\nyou (or somebody with your address) want to be told when “${course}” opens. Open this page and press the button:`,
    confirmButton: "Yes, tell me",
    confirmTitle: (course: string) => `Tell you when “${course}” opens?`,
    opensSubject: (course: string) => `“${course}” is open`,
    opensText: (name: string, course: string) =>
      `${name ? `Hello ${name}` : "Hello"},\n\n“${course}” can be had now. You asked to be told.`,
    opensButton: "Look at it",
  },
  confirm: {
    title: "One press, and you are in",
    text: (course: string) => `You asked for “${course}”. Press the button to confirm that this is your mailbox.`,
    button: "Yes, that's me. Let me in",
    showName:
      "Pages about the course may say my first name, as one of those who joined lately. I can change this in my account.",
    gone: "This link has been used or is too old",
    goneText: "For your safety each link works once. Ask for a new one: it comes to your mailbox.",
    goneButton: "Send me a new link",
    foreign: "This link isn't one of ours",
    foreignText: "Perhaps it was cut off on its way. Open it from the message once more, or ask for a new one.",
  },
  affiliate: {
    toAll: "To all affiliates",
    conditions: (version: number) => `Conditions, version ${version}`,
    agree: "I have read the conditions and agree to them.",
    agreeFirst: "Read the conditions and tick that you agree to them.",
    changed: "The conditions have changed since you opened this page. Read them once more, please.",
    closed: "Nobody can join just now.",
    today: {
      named: (name: string, wanted: string) =>
        `${isolate(name)} wants to be called “${isolate(wanted)}” on your pages.`,
      toNamed: "Say yes or no",
      asked: (n: number) =>
        n === 1 ? "Somebody wants to recommend your courses." : `${n} people want to recommend your courses.`,
      toAsked: "See who it is",
      bonus: (name: string) => `${isolate(name || "An affiliate")} has handed in a bonus for their buyers.`,
      toBonus: "Look at it",
      made: (id: number) => `Payout P${id} waits for your bank, and to be marked as paid.`,
      toMade: "See the payout",
      payDay: (n: number) =>
        n === 1 ? "It is pay day: one affiliate is due." : `It is pay day: ${n} affiliates are due.`,
      toPayDay: "Make the payout",
    },
    check: {
      nothingToCopy: "There is nothing to copy yet: affiliates have a link and no words or picture to go with it.",
      noConditions: "There are no conditions: nobody agrees to anything, and nothing can be held against anybody.",
      leadsNowhere: "Nothing sells this offer just now, so links lead nowhere.",
      toFunnels: "Go to the funnels",
      pageIsDraft: "The page that links lead to is not live: they lead to where the offer is sold instead.",
      draft: (title: string) => `The link of “${title}” is for a page that is not live: it leads to another one.`,
      tooMuch: (code: string, left: string) =>
        `With the coupon ${code} the commission takes all of the ${left} that are left.`,
      couponOver: (code: string, name: string) =>
        `The coupon ${code} of ${name} is over: their readers type it in vain.`,
      toCoupons: "Go to the coupons",
      takenDown: (n: number) =>
        n === 1
          ? "One link of an affiliate is for a page that was taken down: it leads to the next best one."
          : `${n} links of affiliates are for pages that were taken down: they lead to the next best one.`,
    },
  },
  /** On the page to which whoever may not open something is led. */
  locked: (what: { readonly lesson: string | null; readonly course: string }, ended: boolean) =>
    ended
      ? `Your access to “${what.course}” has ended. Here is how to get back in.`
      : what.lesson === null
        ? `“${what.course}” isn’t open to you yet. Here is how to get in.`
        : `“${what.lesson}” is a lesson of “${what.course}”, and isn’t open to you yet. Here is how to get in.`,
  via: {
    recommended: (name: string) => html`Recommended by <strong>${name}</strong>`,
    somebody: "somebody",
    ask: (name: string) =>
      html`You came here because <strong>${name}</strong> recommended it. May we remember that on this device for a while, so that they are thanked for it if you buy?`,
    yes: "Yes, remember it",
    no: "No",
  },
  bankChange: {
    title: "Is this your account?",
    text: (holder: string, account: string) =>
      `From the next payout on, your commission goes to ${holder}, ${account}. What is being paid already goes where it was to go.`,
    button: "Yes, pay me there",
    done: "That is where you are paid",
    doneText: "From the next payout on, your commission goes to this account.",
    over: "This link is over",
    overText: "It works for three days, and only the latest one does. Type your bank details once more on your page.",
    home: "Go to my page",
  },
  wayIn: {
    title: "Come in",
    text: "Press the button to sign in on this device.",
    button: "Sign me in here",
  },
  addressChange: {
    title: "Another address for your account",
    text: (from: string, to: string) => `Your account is to have the address ${to} instead of ${from}.`,
    textNew: (to: string) => `An account here is to have the address ${to}.`,
    button: "Yes",
    half: "Thank you. Now the other mailbox: press the button in the message there, too.",
    done: "Done",
    doneText: (to: string) => `From now on it is ${to}. Sign in with that address.`,
    over: "This link is over",
    overText: "Ask for the change once more, in your account.",
    account: "Open my account",
  },
  studioIn: {
    title: "Sign in to the studio",
    text: "Press the button to sign in to the studio on this device.",
    button: "Sign me in here",
    gone: "This link has been used or is too old",
    goneText: "For your safety each link works once, for an hour.",
    goneLink: "Ask for a new one",
  },
  leave: {
    title: "E-mails from the school",
    text: (email: string) =>
      `E-mails to ${email}: lessons and news. Messages you ask for, such as a sign-in link, always come.`,
    button: "Stop all of these e-mails",
    left: "Done. No more lessons or news will come to you.",
    back: "Changed your mind?",
    backButton: "Send them again",
    returned: "Good. The e-mails come again.",
    receiving: "You receive them now.",
    sequence: (name: string) => `Stop only “${name}”`,
    sequenceLeft: (name: string) => `Done. Nothing more of “${name}” will come; the rest still does.`,
    broadcasts: "Stop letters to everybody, keep lessons and what I signed up for",
    broadcastsLeft: "Done. Letters to everybody don't come any more; the rest still does.",
    broadcastsBack: "Send me letters to everybody again",
    broadcastsReturned: "Good. Letters to everybody come again.",
    zone: "Your time zone, so that mail comes in your morning",
    zoneButton: "Save the time zone",
    zoneSaved: "The time zone is saved.",
  },
  mail: {
    confirmSubject: (course: string) => `One press, and “${course}” is yours`,
    confirmText: (name: string, course: string) =>
      `${name ? `Hello ${name}` : "Hello"},\n\nyou (or somebody with your address) asked for “${course}”. Open this page and press the button, and the first lesson is open:`,
    confirmButton: "Confirm and start",
    confirmAfter: "If it wasn't you, leave this message be: without the press nothing happens.",
    wayInSubject: (school: string) => `Your sign-in link for ${school}`,
    wayInText: (name: string) =>
      `${name ? `Hello ${name}` : "Hello"},\n\nhere is your sign-in link. It signs you in once and works for one hour:`,
    wayInButton: "Open my courses",
    letInSubject: (course: string) => `You have been let into “${course}”`,
    letInText: (name: string, school: string, course: string) =>
      `${name ? `Hello ${name}` : "Hello"},\n\n${school} has let you into “${course}”. The button takes you there and signs you in, once, within two weeks; after that you sign in with this address.`,
    letInButton: "Go to the course",
    fileSubject: (file: string) => `“${file}” is yours`,
    fileText: (name: string, school: string, file: string) =>
      `${name ? `Hello ${name}` : "Hello"},\n\n${school} gives you the file “${file}”. The button takes you there and signs you in, once, within two weeks; after that you sign in with this address.`,
    fileButton: "Take the file",
    opensSubject: (lesson: string) => `“${lesson}” is open`,
    opensText: (name: string, course: string, lesson: string) =>
      `${name ? `Hello ${name}` : "Hello"},\n\nthe next part of “${course}” is open: “${lesson}”. The button takes you there and signs you in, once, within two weeks.`,
    opensButton: "Open the lesson",
    handInSubject: (lesson: string, accepted: boolean) =>
      accepted ? `Accepted: “${lesson}”` : `Once more, please: “${lesson}”`,
    handInText: (name: string, lesson: string, accepted: boolean, answer: string) =>
      `${name ? `Hello ${name}` : "Hello"},\n\n${accepted ? `what you handed in for “${lesson}” is accepted.` : `what you handed in for “${lesson}” has been read, and wants another go.`}${answer ? `\n\n${answer}` : ""}`,
    handInButton: "Go to the lesson",
    addressSubject: (school: string) => `Another address for your account at ${school}`,
    addressOldText: (name: string, school: string, email: string) =>
      `${name ? `Hello ${name}` : "Hello"},\n\nyou asked for your account at ${school} to have another address: ${email}. Press the button to say yes. It takes a yes from both mailboxes, within a day; until then everything stays as it is.`,
    addressOldButton: "Yes, change my address",
    addressNewText: (school: string) =>
      `Hello,\n\nsomebody with an account at ${school} asks for it to have this address from now on. If that is you, press the button. If you have courses there with this address already, they come together with the rest of what you have.`,
    addressNewButton: "Yes, this is my address",
    addressAfter: "If it wasn't you, leave this message be: without the press nothing happens.",
    commentSubject: (n: number, lesson: string) =>
      n === 1 ? `A comment on “${lesson}”` : `${n} comments, the first on “${lesson}”`,
    commentText: (name: string, waiting: number) =>
      `${name ? `Hello ${name}` : "Hello"},\n\nthis was written below your lessons.${waiting === 0 ? "" : waiting === 1 ? " One comment waits for you before others see it." : ` ${waiting} comments wait for you before others see them.`}`,
    commentBy: (name: string, lesson: string) => `${name} on “${lesson}”:`,
    teamNoteSubject: (who: string, sequence: string) => `${who}, in “${sequence}”`,
    teamNoteText: (who: string, sequence: string) =>
      `${who} has come to the place in the sequence “${sequence}” where you wanted to be told.`,
    teamNoteButton: "See who it is",
    commentButton: "Read and answer",
    affiliateSubject: (offer: string, school: string) => `Recommend “${offer}”, and be paid for it: ${school}`,
    affiliateText: (name: string, school: string, offer: string, pays: string) =>
      `${name ? `Hello ${name}` : "Hello"},\n\n${school} invites you to recommend “${offer}” and pays you for it: ${pays}\n\nThe button takes you to your own page, with your link, words and pictures ready to use. You read the conditions there before you say yes. It signs you in once, within a month.`,
    affiliateButton: "See what it is about",
    approvedSubject: (school: string) => `You can begin: your affiliate page at ${school}`,
    approvedText: (name: string, school: string) =>
      `${name ? `Hello ${name}` : "Hello"},\n\n${school} has said yes: you can recommend its courses from now on. The button takes you to your own page, with your link, words and pictures, and what you earn. It signs you in once, within two weeks.`,
    approvedButton: "Go to my page",
    bankSubject: (school: string) => `Is this your account? ${school}`,
    bankText: (name: string, school: string, holder: string, account: string) =>
      `${name ? `Hello ${name}` : "Hello"},\n\nsomebody signed in as you at ${school} wants your commission to be paid to this account from the next payout on:\n\n${holder}\n${account}\n\nIf that was you, open the page and press the button, within three days.`,
    bankButton: "Look at it, and say yes",
    bankAfter:
      "If it wasn't you, leave this message be, and change your password: until the button is pressed nothing changes.",
    statementSubject: (amount: string, school: string) => `${amount} of commission from ${school}`,
    statementText: (name: string, school: string, amount: string, account: string, day: string) =>
      `${name ? `Hello ${name}` : "Hello"},\n\n${school} has paid you ${amount} on ${day}, to the account ${account}. The statement goes along with this message: every sale with its date and its rate. Your page has it, too.`,
    reportSubject: (school: string, days: string) => `${school}: ${days}`,
    reportButton: "Open Numbers",
    reportAfter: "You asked for this report in Settings, Account; there it can be switched off.",
    statementButton: "Go to my page",
    wayInAfter: "If you didn't ask for it, leave this message be.",
    studioSubject: (school: string) => `Sign in to the studio of ${school}`,
    studioText: (name: string) =>
      `Hello ${name},\n\nhere is a link that signs you in to the studio, once, within the next hour. If the password is lost, set a new one under Settings, Account:`,
    studioButton: "Sign in to the studio",
    studioAfter: "If you didn't ask for it, leave this message be: nobody is let in by asking.",
    test: "Test",
    testSubject: (school: string) => `A test from ${school}`,
    testText: "This is the test you asked for in the studio. It came, so your mail works.",
    testButton: "Back to the studio",
    leaveLine: "Stop these e-mails",
    /** The ways to pay for an offer, each a sentence. */
    ways: (sentences: readonly string[]) => sentences.join(" Or: "),
    ends: (when: string) => `It can be had until ${when}.`,
    moment: (said: string, place: string) => `${said} (${place} time)`,
    receiptSubject: (school: string, number: string) => `Receipt ${number} from ${school}`,
    receiptText: (name: string, number: string) =>
      `${name ? `Hello ${name}` : "Hello"},\n\nthank you. This is the receipt for order ${number}:`,
    receiptPaid: (amount: string, day: string) => `Paid on ${day}: ${amount}`,
    receiptTax: (net: string, tax: string, rate: string) => `${net} and ${tax} tax (${rate})`,
    receiptStatement: (text: string) => `Your card statement shows it as ${text}.`,
    receiptButton: "Open what I bought",
    receiptAfter: "The button signs you in once and works for three days; after that, ask for a new sign-in link.",
    receiptPlan: "See my plan, change the card, or end it",
    mendSubject: (offer: string) => `Your card for “${offer}” was refused`,
    mendText: (name: string, offer: string, amount: string, day: string | null) =>
      `${name ? `Hello ${name}` : "Hello"},\n\nwe tried to charge ${amount} for “${offer}”, and your card was refused. ${day ? `We try again on ${day}. ` : ""}Please look at the card: it takes a minute.`,
    mendButton: "Update the card",
    endedSubject: (offer: string) => `“${offer}” has ended`,
    endedText: (name: string, offer: string, stays: boolean) =>
      `${name ? `Hello ${name}` : "Hello"},\n\nyour card was refused for the last time, so your plan for “${offer}” has ended. ${stays ? "What you have of it stays open." : "It is closed for you now."} Nothing more will be charged.`,
    endedButton: "My courses",
    refundSubject: (amount: string, school: string) => `${school} refunds ${amount}`,
    refundText: (name: string, amount: string, number: string, stays: boolean) =>
      `${name ? `Hello ${name}` : "Hello"},\n\n${amount} of order ${number} is on its way back to your card. It can take some days until it shows there. ${stays ? "What you have of it stays open." : "What came with it is closed for you now."}`,
  },
  down: {
    title: "Back in a moment",
    text: "The school is catching its breath. Please try again in half a minute: nothing is lost.",
  },
  unreadable: {
    title: "That couldn't be read",
    text: "The address or the form was cut off on its way. Please go back and try again.",
  },
  missing: {
    never: {
      title: "There is nothing at this address",
      text: "It may have moved, or the link was cut off on its way.",
    },
    gone: {
      title: "This page isn’t there any more",
      text: "It stood here once, and has been taken down.",
    },
    home: "See what there is",
  },
  coupon: {
    unknown: "This code isn't known here. Please check its spelling.",
    "not-yet": "This code doesn't count yet.",
    over: "This code is over.",
    "used-up": "This code has been used up.",
    "used-by-them": "This code has been used up.",
    tooMany: "Too many codes were tried from here. Please try again in ten minutes, or go on without one.",
    "not-for-this": "This code is for something else.",
    "other-currency": "This code is for another currency.",
    "for-seats":
      "This code is for whoever has a seat at the webinar. Open the link in your e-mail, then come back here.",
  },
  offer: {
    "not-yet": (name: string) => `“${name}” can't be had yet.`,
    over: (name: string) => `“${name}” is over.`,
    "sold-out": (name: string) => `“${name}” is sold out.`,
    left: (n: number) => (n === 1 ? "One left." : `${n} left.`),
    until: (day: string) => `Until ${day}.`,
    priceUntil: (moment: string) => `Your lower price is there until ${moment}.`,
    days: (n: number) => (n === 1 ? "day" : "days"),
    gives: {
      course: (title: string, lessons: number) =>
        lessons ? `${title}: ${lessons} ${lessons === 1 ? "lesson" : "lessons"}` : title,
      post: (title: string) => `${title}, sent by post`,
    },
    compare: {
      title: (offer: string) => `Ways to pay for ${offer}`,
      amount: "It costs",
      today: "Today",
      payments: "Payments",
      total: "In all",
      open: "until you end it",
    },
    guarantee: (n: number) =>
      `Within ${n === 1 ? "a day" : `${n} days`} of buying you get your money back, without questions. An e-mail is enough.`,
    gone: "This is no longer on offer.",
  },
  checkout: {
    email: "E-mail address",
    name: "First name",
    postal: "Where it is to be sent",
    code: "Coupon code",
    codeButton: "Use it",
    terms: "How you pay",
    bumps: "Add to your order",
    card: "Card",
    test: "Test: no money moves.",
    cardNote: "The card processor reads your card; its number never comes to us.",
    statement: (text: string) => `On your card statement: ${text}`,
    off: (code: string, amount: string) => `“${code}” takes ${amount} off what you pay today.`,
    offUntil: (says: string, until: string) => `${says} It is there for your seat until ${until}.`,
    offLater: (code: string) => `“${code}” counts: what it takes off is in the sentence below.`,
    pay: (amount: string) => `Pay ${amount}`,
    keepCard: "Begin, with this card",
    free: "Get it now",
    update: "Work it out anew",
    sum: "What you pay",
    today: "Today",
    badPostal: "Please say where it is to be sent: at least a street, a town and a country.",
    changed: "This has changed since you opened the page. Please read it again before you go on: nothing was charged.",
    noCard: "The card wasn't read. Please enter it again: nothing was charged.",
    noScript: "To pay by card, your browser must be allowed to run this page's script.",
    noProcessor: "Nothing can be paid here just now. Nothing was charged.",
    perPerson: "No more of these can be had with this order. Nothing was charged.",
    justBought: (name: string) =>
      `“${name}” was bought on this device just now. To buy it once more, press the button again: nothing more was charged so far.`,
    boughtHere: (name: string) => `“${name}” was bought on this device within the last day.`,
    onceMore: (button: string) => `Once more: ${button}`,
    hasIt: (name: string) => `You have “${name}” already.`,
    hasItLink: "Open it",
    refused: {
      refused: "Your card was refused. Nothing was charged. Please try another card, or ask your bank.",
      insufficient: "There is too little on this card. Nothing was charged. Please try another.",
      expired: "This card has expired. Nothing was charged. Please try another.",
      "not-confirmed": "Your bank didn't confirm it. Nothing was charged. Please try again, or another card.",
    },
    waiting: "Asking the card processor",
    waitingText:
      "It is taking longer than usual. Please don't pay again: this page goes on by itself, and if nothing was charged it says so.",
    lapsed: "Nothing was charged",
    lapsedText: "The card processor didn't answer, so we have given it up. Please try again.",
    again: "Back to the checkout",
    foreign: "This order was made on another device",
    foreignText: "Sign in to go on here.",
    signIn: "Sign in",
  },
  further: {
    way: ["Ordered", "One more thing", "Done"],
    cost: (amount: string) => `: ${amount}`,
    costLater: ": nothing today",
    refused: {
      refused: "Your card was refused for this. Your order before it is safe.",
      insufficient: "There is too little on your card for this. Your order before it is safe.",
      expired: "Your card has expired. Your order before it is safe.",
      "not-confirmed": "Your bank didn't confirm this. Your order before it is safe.",
    },
    changed: "This has changed since you opened the page. Please read it again: nothing was charged.",
  },
  proof: {
    worked: "Your order",
    order: (n: string) => `order ${n}`,
    device: "What you bought is open on this device right now. For any other device, a sign-in link is in your inbox.",
    mail: (email: string) => `The receipt is on its way to ${email}.`,
    open: "Open it now",
    later: "There is something we would have shown you. It waits for an hour.",
    laterLink: "Have a look",
  },
  price: {
    nothing: "You pay nothing.",
    nothingToday: "You pay nothing today",
    today: (amount: string) => `You pay ${amount} today`,
    paidNothing: "You paid nothing.",
    paidNothingYet: (day: string) => `You paid nothing on ${day}`,
    paidToday: "You paid nothing today",
    paid: (amount: string) => `You paid ${amount} today`,
    paidOn: (amount: string, day: string) => `You paid ${amount} on ${day}`,
    next: "then",
    once: (amount: string, day: string) => `${amount} on ${day}`,
    each: (amount: string, rhythm: string, from: string, end: { times: number; last: string } | null) =>
      end
        ? `${amount} ${rhythm} from ${from}, ${end.times} times, the last on ${end.last}`
        : `${amount} ${rhythm} from ${from} until you cancel`,
    everyWeek: (weekday: string) => `each ${weekday}`,
    everyMonth: (day: string) => `on the ${day} of each month`,
    everyYear: (day: string) => `on ${day} of each year`,
    every: (count: number, units: string) => `every ${count} ${units}`,
    everyOn: (count: number, units: string, day: string) => `every ${count} ${units}, on ${day},`,
    theDay: (day: string) => `the ${day}`,
    orLast: (day: string) => `${day} (or the last day)`,
    inAll: (amount: string) => `That is ${amount} in all.`,
    tax: (rate: string) => `Tax of ${rate} is included.`,
    free: "free",
    per: (amount: string, unit: "week" | "month" | "year", count: number) =>
      count === 1 ? `${amount} a ${unit}` : `${amount} every ${count} ${unit}s`,
    firstThen: (first: string, each: string) => `${first}, then ${each}`,
  },
  chip: { "first-name": "first name", course: "course", teacher: "teacher", school: "school" },
} as const

/** Words of the same shape in any language. */
type Shape<T> = T extends string
  ? string
  : T extends (...given: infer G) => infer R
    ? (...given: G) => Shape<R>
    : T extends readonly (infer I)[]
      ? readonly Shape<I>[]
      : { readonly [K in keyof T]: Shape<T[K]> }

export type Words = Shape<typeof words>
