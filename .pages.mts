import type { Look } from "./src/core/look/look"
export function pageFor(which: string, look: Look): any {
  const course = {
    id: 1,
    slug: "a",
    title: "A Year in Ferments",
    promise: "Twelve months, twelve crocks, from the first roots to the last beet",
    teacher: "Maren Solvik",
    state: "live",
    lessons: [
      "January: the patience of roots",
      "February: koji, a first look",
      "March: nettles and wild garlic",
      "April: rhubarb, sour on sour",
      "May: radish in a hurry",
      "June: elderflower",
      "July: cucumbers that stay crisp",
      "August: tomatoes, green and red",
    ].map((title, i) => ({ id: i + 1, title, minutes: 11 + i, state: "live", module: "", free: i === 4 })),
  }
  const way = (id: number, name: string, amount: string, says: string) => ({ id, name, amount, says, accept: "" })
  const offers = {
    1: {
      id: 1,
      name: "A Year in Ferments",
      promise: "One ferment a month.",
      picture: null,
      ways: [
        way(1, "All at once", "€290", "You pay €290.00 today. Tax of 25 % is included."),
        way(
          2,
          "In four parts",
          "4 × €79",
          "€79.00 today, then on the 30th of each month, the last on 28 February 2027. €316.00 in all.",
        ),
      ],
      note: "",
      open: true,
    },
  }
  const buy = (id: string) => ({
    id,
    kind: "button",
    says: "Begin the year",
    leads: { to: "form" },
    note: "from €79, first lesson free to watch",
  })
  const blocks: Record<string, any[]> = {
    sales: [
      { id: "h", kind: "headline", text: course.promise, above: "A course with Maren Solvik" },
      {
        id: "t",
        kind: "text",
        html: "<p>One ferment a month, made beside you on video, at the time of year when the vegetables are at their best.</p>",
      },
      buy("b1"),
      { id: "p", kind: "picture", media: 1, alt: "Jars" },
      {
        id: "s1",
        kind: "section",
        tone: "tinted",
        blocks: [
          { id: "h2", kind: "headline", text: "What is inside" },
          { id: "l", kind: "lessons", course: 1 },
        ],
      },
      { id: "h3", kind: "headline", text: "Two ways to pay" },
      { id: "pr", kind: "price", offer: 1 },
      {
        id: "s2",
        kind: "section",
        tone: "dark",
        blocks: [
          { id: "h4", kind: "headline", text: "Maren Solvik" },
          {
            id: "t4",
            kind: "text",
            html: "<p>has kept a cellar of two hundred jars for fifteen years and thrown out about as many.</p>",
          },
          buy("b2"),
        ],
      },
    ],
    all: [
      { id: "an", kind: "announcement", says: "The doors close on Sunday", offer: 1 },
      { id: "h", kind: "headline", text: course.promise, above: "A course with Maren Solvik" },
      { id: "t", kind: "text", html: "<p>One ferment a month, made beside you on video.</p>" },
      { id: "s0", kind: "section", tone: "tinted", blocks: [{ id: "n", kind: "numbered", items: [{title:"You know what salt does",says:"and stop following recipes to the gram."},{title:"You read a brine by eye",says:"clear, cloudy, bubbling."},{title:"You keep a shelf",says:"that feeds four people."}] }] },
      { id: "o", kind: "outcomes", course: 1, title: "What you will be able to do" },
      { id: "l", kind: "lessons", course: 1 },
      { id: "s1", kind: "section", tone: "dark", blocks: [{ id: "te", kind: "teacher", teacher: 1 }] },
      { id: "s2", kind: "section", tone: "tinted", blocks: [{ id: "q", kind: "quotes", course: 1, title: "From those who did it", most: 3 }] },
      { id: "h3", kind: "headline", text: "Two ways to pay" }, { id: "pr", kind: "price", offer: 1 }, { id: "g", kind: "guarantee", offer: 1 }, { id: "cd", kind: "countdown", offer: 1, pieces: true },
      { id: "as", kind: "aside", media: 1, alt: "Jars", html: "<p>Beside it stands a text.</p>", side: "end" },
      { id: "f", kind: "figures", course: 1, show: ["learners","lessons","hours"] },
      { id: "co", kind: "columns", count: 3, blocks: [1,2,3].map(i => ({ id: "x"+i, kind: "box", blocks: [{ id: "y"+i, kind: "text", html: "<p>A box of three.</p>" }] })) },
      { id: "ga", kind: "gallery", as: "pictures", items: [{media:1,says:"a"},{media:1,says:"b"},{media:1,says:"c"}] },
      { id: "lo", kind: "gallery", as: "logos", items: [{media:null,says:"Fernvik Fair"},{media:null,says:"Radio North"}] },
      { id: "s4", kind: "section", tone: "dark", media: 1, blocks: [{ id: "h5", kind: "headline", text: "On a picture" }, { id: "t5", kind: "text", html: "<p>Words on a picture can be read.</p>" }, buy("b9")] },
      { id: "si", kind: "signature", media: null, name: "Maren Solvik" },
      { id: "s3", kind: "section", tone: "tinted", blocks: [{ id: "as3", kind: "questions", title: "Asked before", items: [{asks:"How long do I have it?",says:"As long as you like."},{asks:"Do I need a cellar?",says:"No."}] }] },
      { id: "re", kind: "reach", says: "Begin", leads: { to: "form" }, offer: 1 },
    ],
    optin: [
      { id: "h", kind: "headline", text: "Your first crock of sauerkraut, in five mornings", above: "" },
      {
        id: "t",
        kind: "text",
        html: "<p><strong>The First Crock</strong> is a free mini-course: five short lessons with Maren Solvik, one each morning.</p>",
      },
      { id: "p", kind: "picture", media: 1, alt: "Jars" },
      {
        id: "f",
        kind: "form",
        says: "Send me the first lesson",
        askName: true,
        consent: "Send me the lessons by e-mail. I can leave at any time.",
        confirm: true,
        foreign: false,
      },
      {
        id: "s1",
        kind: "section",
        tone: "tinted",
        blocks: [
          { id: "h2", kind: "headline", text: "What is inside" },
          { id: "l", kind: "lessons", course: 1 },
        ],
      },
    ],
  }
  const step = {
    id: 1,
    kind: which !== "optin" ? "sales" : "optin",
    name: "x",
    path: "a",
    page: { version: 1, title: "x", blocks: blocks[which] },
    settings: {},
  }
  return {
    step,
    context: {
      funnel: {
        version: 2,
        id: 1,
        name: "f",
        againAfter: null,
        steps: [step],
        streams: [],
        effects: [],
        sequences: [],
        courses: [course],
      },
      school: { name: "Juniper Crock", postalAddress: "4 Mill Lane, Bergen", look },
      pictures: new Map([[1, { url: "/media/a.png", width: 1600, height: 1000, tones: ["#102030", "#F0E0C0"] }]]),
      videos: new Map(),
      offers,
      release: 0,
    },
  }
}
