// The message catalogue: what visitors, readers and learners are told by the product itself, in British-neutral English.

export const words = {
  page: {
    firstName: "First name",
    email: "E-mail address",
    honeypot: "Leave this field empty",
    pictureMissing: "A picture comes here.",
  },
  join: {
    badEmail:
      "That doesn't look like an e-mail address. Please check it: it needs an @ and a domain, like maren@school.example.",
    badName: "Please keep your first name to 80 characters, on one line.",
    tooMany: "Too many different addresses came from your connection. Please try again in an hour.",
    tooLong: "That was more than this form takes.",
    sent: "Please look into your inbox",
    sentText:
      "If the address is right, a message is on its way to it. Press the link in it to go on. It can take a minute, and now and then it lands among the unwanted.",
  },
  confirm: {
    title: "One press, and you are in",
    text: (course: string) => `You asked for “${course}”. Press the button to confirm that this is your mailbox.`,
    button: "Yes, that's me. Let me in",
    gone: "This link has been used or is too old",
    goneText: "For your safety each link works once. Ask for a new one: it comes to your mailbox.",
    goneButton: "Send me a new link",
    foreign: "This link isn't one of ours",
    foreignText: "Perhaps it was cut off on its way. Open it from the message once more, or ask for a new one.",
  },
  wayIn: {
    title: "Come in",
    text: "Press the button to sign in on this device.",
    button: "Sign me in here",
  },
  leave: {
    title: "E-mails from the school",
    text: (email: string) =>
      `E-mails to ${email}: lessons and news. Messages you ask for, such as a way in, always come.`,
    button: "Stop these e-mails",
    left: "Done. No more lessons or news will come to you.",
    back: "Changed your mind?",
    backButton: "Send them again",
    returned: "Good. The e-mails come again.",
    receiving: "You receive them now.",
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
    wayInSubject: (school: string) => `Your way in to ${school}`,
    wayInText: (name: string) =>
      `${name ? `Hello ${name}` : "Hello"},\n\nhere is your way in. The link signs you in once and works for one hour:`,
    wayInButton: "Open my courses",
    wayInAfter: "If you didn't ask for it, leave this message be.",
    leaveLine: "Stop these e-mails",
  },
  down: {
    title: "Back in a moment",
    text: "The school is catching its breath. Please try again in half a minute: nothing is lost.",
  },
  missing: { title: "Nothing stands at this address", text: "It may have moved, or the link was cut off on its way." },
  price: {
    nothing: "You pay nothing.",
    nothingToday: "You pay nothing today",
    today: (amount: string) => `You pay ${amount} today`,
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
    orLast: (day: string) => `${day} (or the last day)`,
    inAll: (amount: string) => `That is ${amount} in all.`,
    tax: (rate: string) => `Tax of ${rate} is included.`,
  },
  chip: { "first-name": "first name", course: "course", teacher: "teacher", school: "school" },
} as const
