// The texts of the demo school Juniper Crock. All of it is invented.

export const school = {
  name: "Juniper Crock",
  senderName: "Maren Solvik, Juniper Crock",
  senderEmail: "maren@junipercrock.example",
  postalAddress: "4 Mill Bank, 1000 Fernvik",
  zone: "Europe/Oslo",
} as const

/** Who teaches. */
export const maren =
  "I have kept a cellar of two hundred jars for fifteen years, and thrown out about as many.\nI teach what went wrong as gladly as what went right: most of it is salt, time, and leaving the lid alone."

/** What learners said, and agreed to have shown. */
export const learnersSaid = {
  year: [
    ["My first kimchi was gone in a week. The second I hid.", "Hana, since March", "hana"],
    ["I finally know when it is done, and why.", "Tomasz, since January", "tomasz"],
    ["The only course I ever finished.", "Zora, since May", "zora"],
  ],
  crock: [
    ["I was afraid of it for years. It took one cabbage and a quiet corner.", "Tomasz", "tomasz"],
    ["Five mornings, and my children ask for sauerkraut.", "Hana", "hana"],
  ],
} as const

/** What the sales page is asked that only the school can answer. */
export const answers: Readonly<Record<string, string>> = {
  "Whom can I ask?": "Me. Answer any e-mail, or write to maren@junipercrock.example: within two days, often sooner.",
  "Whom is it for?":
    "For whoever cooks at home and would like the shelf to do some of the work. You need a scale, a knife and a crock or a few jars.",
  "Whom is it not for?":
    "For whoever wants to sell what they make: the rules for that are others. And for nobody who is in a hurry in October.",
}

export const firstCrock = {
  promises: [
    "Weigh salt by the cabbage, and know why it is two in a hundred",
    "Tell by eye and nose what is as it should be, and what isn’t",
    "Keep a jar for months without a refrigerator",
  ],
  title: "The First Crock",
  promise: "Your first crock of sauerkraut, crisp and sour, from one cabbage and a spoon of salt",
  teacher: "Maren Solvik",
  lessons: [
    {
      title: "One cabbage, one spoon of salt",
      minutes: 6,
      alt: "A cut cabbage beside a small dish of salt",
      body: "<p>Weigh the cabbage after you have taken off the outer leaves. Keep one of them: it will be the lid.</p><p>For every kilogram take 20 grams of salt. That is two in a hundred, and it is the whole secret. Less, and the wrong ones move in. More, and nobody does.</p><ul><li>A kitchen scale</li><li>A large bowl</li><li>Plain salt without anything in it</li></ul><p>Cut as fine as you like to eat it. Strew the salt over, and leave it alone for a quarter of an hour. When you come back it will already be wet.</p>",
    },
    {
      title: "Knead until it weeps",
      minutes: 8,
      alt: "Hands pressing cut cabbage in a bowl",
      body: "<p>Press, turn, press. After five minutes the cabbage gives up its water, after ten it stands in it. That water is your brine; you will not need to add any.</p><p>Fill the jar a handful at a time and press each one down with your fist. Air is the only enemy you have this week.</p><p><strong>The test:</strong> press the top once more. If brine covers everything, you are done.</p>",
    },
    {
      title: "A weight, a lid, a quiet corner",
      minutes: 5,
      alt: "A jar with a leaf and a stone as its weight",
      body: "<p>Fold the leaf you kept, lay it on top, and put a weight on it: a small glass, a boiled stone, a bag of brine.</p><p>Close the lid so that gas gets out and flies do not get in. Half a turn back from tight is enough. Put a plate below, because tomorrow it will run over.</p><p>Eighteen to twenty-two degrees, out of the sun. Then leave it be.</p>",
    },
    {
      title: "What it says while it works",
      minutes: 7,
      alt: "Small bubbles rising in a jar of cloudy brine",
      body: "<p>Day two: bubbles. Day three: cloudy. Day four: it smells of a farmyard for an afternoon, and then no longer. All of that is as it should be.</p><p>A white, flat bloom on the brine is yeast. Lift it off with a spoon. Fuzz in colours is mould; then start again, and look at what stood out of the brine.</p>",
    },
    {
      title: "Taste, stop, keep",
      minutes: 6,
      alt: "A fork with sauerkraut above an open jar",
      body: "<p>Taste from the seventh day on. When it is sour enough for you, it is ready: not before and not after.</p><p>The fridge slows everything down to a hundredth. Kept under its brine it stays good for half a year.</p><p>You have made your first crock. The second is the one that you will be proud of.</p>",
    },
  ],
} as const

/** What is sold, in the order of its offers. */
export const shopCourses = [
  {
    slug: "a-year-in-ferments",
    title: "A Year in Ferments",
    /** A module for each lesson, one a month. */
    monthly: true,
    promise: "Twelve months, twelve crocks, from the first roots to the last beet",
    promises: [
      "Know what salt does, and stop following recipes to the gram",
      "Read a brine by eye: clear, cloudy, bubbling, and what isn’t fine",
      "Choose for each month what is at its best, and cheapest",
      "Keep a shelf that feeds four people through a winter",
    ],
    lessons: [
      {
        title: "January: the patience of roots",
        says: "Carrots, swede and celeriac in a brine that has time.",
        minutes: 18,
      },
      {
        title: "February: koji, a first look",
        says: "Rice, spores and thirty hours of warmth: what koji is before we let it work.",
        minutes: 16,
      },
      { title: "March: nettles and wild garlic", says: "What comes up first goes under salt first.", minutes: 14 },
      {
        title: "April: rhubarb, sour on sour",
        says: "A stalk that is sour already, and what salt adds to it.",
        minutes: 15,
      },
      { title: "May: radish in a hurry", says: "Five days, one jar, and the loudest crunch of the year.", minutes: 11 },
      {
        title: "June: elderflower, and what else drinks sugar",
        says: "Flowers, sugar and the yeast that came with them.",
        minutes: 17,
      },
      {
        title: "July: cucumbers that stay crisp",
        says: "Leaves with tannin, cold water, and no more than a week.",
        minutes: 19,
      },
      { title: "August: tomatoes, green and red", says: "Two brines for two colours.", minutes: 16 },
      { title: "September: the large cabbage", says: "Twenty kilograms, two people, one afternoon.", minutes: 24 },
      { title: "October: plums, and the salt that waits", says: "Three weeks on a sunny sill.", minutes: 15 },
      {
        title: "November: kimchi in our kitchen",
        says: "What we keep of it, and what we leave to those who know.",
        minutes: 22,
      },
      {
        title: "December: beet, and the year on one shelf",
        says: "A red brine to drink, and a look back along the jars.",
        minutes: 18,
      },
    ],
  },
  {
    slug: "the-koji-tray",
    monthly: false,
    title: "The Koji Tray",
    promise: "Three weekends with one tray, from the first spores to a miso of your own",
    lessons: [
      {
        title: "The first weekend: rice",
        says: "Washing, soaking, steaming: grains that are dry outside and soft inside.",
        minutes: 21,
      },
      { title: "The second weekend: warmth", says: "Spores, a tray, and forty hours of keeping watch.", minutes: 26 },
      { title: "The third weekend: miso", says: "Beans, salt, koji, and a jar to forget until autumn.", minutes: 23 },
    ],
  },
  {
    slug: "brine-clinic",
    monthly: false,
    title: "Brine Clinic",
    promise: "Bring the jar that worries you: what went wrong, and what to do",
    lessons: [
      { title: "It went soft", says: "Too little salt, too much warmth, or a leaf missing.", minutes: 7 },
      { title: "It smells", says: "Of yeast, of farmyard, of nothing at all: which is which.", minutes: 8 },
      { title: "It has a skin", says: "White and flat, or coloured and furred: keep it, or start again.", minutes: 6 },
    ],
  },
  {
    slug: "the-cold-shelf",
    monthly: false,
    title: "The Cold Shelf",
    promise: "A new crock each month, with all the others on the shelf",
    lessons: [
      { title: "How the shelf works", says: "What comes when, and where to ask.", minutes: 4 },
      { title: "This month: a brine for winter", says: "Salt, citrus peel and a cold cellar.", minutes: 19 },
      { title: "Thursdays with Maren", says: "The questions of the last weeks, answered.", minutes: 31 },
    ],
  },
] as const

/** Names of made-up people, in several scripts. */
export const firstNames = [
  "Aino",
  "Bram",
  "Chiara",
  "Dilnoza",
  "Eamon",
  "Fatou",
  "Gunnar",
  "Hana",
  "Ines",
  "Jorge",
  "Kaya",
  "Lene",
  "Mateusz",
  "Nilufar",
  "Oskar",
  "Priya",
  "Quentin",
  "Rosa",
  "Sanna",
  "Tomasz",
  "Una",
  "Vera",
  "Wiebke",
  "Xenia",
  "Yusuf",
  "Zora",
  "José",
  "Zoë",
  "Søren",
  "Łucja",
  "Мила",
  "Иван",
  "Ελένη",
  "نور",
  "דנה",
  "さくら",
  "지우",
  "明",
] as const

/** Where visitors come from: how many of a hundred, and how ready they are (1 is average). */
export const sources = [
  { name: "garden letter", share: 44, ready: 1.2 },
  { name: "podcast guest spot", share: 28, ready: 1.05 },
  { name: "search.example", share: 15, ready: 0.7 },
  { name: "direct", share: 8, ready: 0.8 },
  { name: "bread and brine", share: 5, ready: 0.9 },
] as const

export const zones = [
  "Europe/Oslo",
  "Europe/Oslo",
  "Europe/Berlin",
  "Europe/Berlin",
  "Europe/London",
  "Europe/Warsaw",
  "America/New_York",
  "America/Los_Angeles",
  "Asia/Kathmandu",
  "Australia/Sydney",
] as const

/** What the first month asks at its end. */
export const rootsQuiz = {
  id: "roots",
  kind: "quiz",
  passMark: 60,
  tries: 0,
  shuffle: true,
  questions: [
    {
      id: "salt",
      kind: "number",
      asks: "How many grams of salt go into a litre of water for a brine of 3 %?",
      explains: "Thirty grams to the litre: a heaped tablespoon, but weigh it.",
      answer: 30,
      tolerance: 1,
    },
    {
      id: "roots",
      kind: "choice",
      asks: "Which of these take six weeks?",
      explains: "Roots are patient; radish is not.",
      options: [
        { says: "Carrot", right: true },
        { says: "Celeriac", right: true },
        { says: "Radish", right: false },
        { says: "Swede", right: true },
      ],
    },
    {
      id: "above",
      kind: "choice",
      asks: "A slice swims above the brine. What now?",
      explains: "What is under brine is safe; what looks out of it is not.",
      options: [
        { says: "Push it under and weigh it down", right: true },
        { says: "Leave it, it will sink", right: false },
        { says: "Add vinegar", right: false },
      ],
    },
  ],
} as const

/** What learners wrote below the mini-course, by lesson; without an answer it waits. */
export const comments = [
  {
    lesson: 0,
    says: "My kitchen is at 17 degrees in winter. Do I wait longer?",
    answer: "Yes, half as long again. Taste on the tenth day instead of the seventh.",
  },
  {
    lesson: 0,
    says: "I only have sea salt with seaweed in it. Fine?",
    answer: "Fine, if nothing keeps it from clumping. Read the small print on the bag.",
  },
  { lesson: 1, says: "White film on top since yesterday. Is that mould?", answer: null },
] as const

export const rootsWork = {
  id: "work",
  kind: "assignment",
  file: true,
  asks: "Start a jar of roots this week. Then tell me: what went in, how much salt, and where it stands now.",
} as const

export const handedIn =
  "Two carrots, half a celeriac, 30 grams of salt to the litre, a bay leaf. It stands on the stairs, where it is 15 degrees, under a plate and a stone from the beach."

/** What the mini-course asks at its end. */
export const crockSurvey = {
  id: "end",
  kind: "survey",
  survey: [
    {
      id: "sour",
      kind: "choice",
      asks: "How did your first crock turn out?",
      required: true,
      several: false,
      options: ["Crisp and sour", "Soft, but good", "It is still working", "It went wrong"],
    },
    {
      id: "how",
      kind: "scale",
      asks: "How sure are you that you could do it again without me?",
      required: true,
      most: 5,
      low: "not at all",
      high: "with closed eyes",
    },
    {
      id: "good",
      kind: "scale",
      asks: "What do you think of the course?",
      required: false,
      most: 5,
      low: "a waste of cabbage",
      high: "I’d give it to a friend",
      rates: true,
    },
    { id: "next", kind: "text", asks: "What would you like to put under salt next?", required: false },
  ],
} as const

/** What some of them wrote; null: nothing. */
export const surveyWords = [
  "Beetroot, for the colour.",
  null,
  "Cucumbers. Mine always go soft.",
  null,
  "Radish! My neighbour has too many.",
  "Something for children who don't like sour.",
  null,
] as const

/** Notices for learners; `strangers`: how often seen by whoever wasn't signed in. */
export const notices = (of: { first: number; year: number; offer: number }) =>
  [
    {
      title: "Open day in Fernvik on 12 December",
      body: "Taste what has stood since spring. Come by between ten and three, 4 Mill Bank.",
      place: "sign-in",
      until: "2030-12-12",
      live: true,
      strangers: 1_204,
    },
    {
      title: "Half of the year is behind you",
      body: "Six crocks, six months. The summer ones are the quickest.",
      place: "lesson",
      course: of.year,
      segment: { match: "all", parts: [{ kind: "progress", course: of.year, from: 40, to: 60 }] },
      live: false,
      strangers: 0,
    },
    {
      title: "Your crock stands. What about the other eleven months?",
      body: "A Year in Ferments goes on where The First Crock ends: a new crock each month, with what grows then.",
      button: "See A Year in Ferments",
      leads: { to: "offer", id: of.offer },
      place: "shelf",
      segment: {
        match: "all",
        parts: [
          { kind: "course", course: of.first, has: true },
          { kind: "course", course: of.year, has: false },
        ],
      },
      live: true,
      strangers: 0,
    },
  ] as const

/** Twelve questions about people, by name. */
export const segments = (of: {
  first: number
  year: number
  koji: number
  offer: number
  tag: number
  cellar: { readonly field: number; readonly choice: number }
  lastLesson: number
}) => {
  const all = (...parts: object[]) => ({ match: "all", parts })
  const has = (course: number, is = true) => ({ kind: "course", course, has: is })
  const bought = (offer: number | null, is: boolean, days: number | null = null) => ({
    kind: "bought",
    offer,
    has: is,
    days,
  })
  const gets = { kind: "receives", is: true }
  const joined = (within: boolean, days: number) => ({ kind: "joined", within, days })
  return [
    ["Newcomers of this month", all(joined(true, 30))],
    ["Newcomers who have bought nothing", all(joined(true, 30), bought(null, false), gets)],
    [
      "Done with the first crock, without the year",
      all({ kind: "lesson", lesson: of.lastLesson, has: true }, has(of.year, false), gets),
    ],
    ["In the year", all(has(of.year))],
    ["In the year, and gone quiet", all(has(of.year), { kind: "here", has: false, days: 30 })],
    ["Bought in the last three months", all(bought(null, true, 90))],
    ["The year, and nothing else yet", all(bought(of.offer, true), has(of.koji, false))],
    ["Card refused", all({ kind: "plan", offer: null, state: "behind", has: true })],
    ["Readers who follow links", all({ kind: "clicked", has: true, days: 30 }, gets)],
    [
      "From the garden letter, with a cellar",
      all(
        { kind: "source", source: "garden letter", is: true },
        {
          kind: "field",
          field: of.cellar.field,
          how: "is",
          value: String(of.cellar.choice),
          choice: true,
          has: true,
        },
      ),
    ],
    [
      "Half of the first crock, and stuck",
      all({ kind: "progress", course: of.first, from: 20, to: 80 }, { kind: "here", has: false, days: 14 }),
    ],
    [
      "Warm, one way or another",
      all(
        {
          match: "any",
          not: false,
          parts: [
            { kind: "tag", tag: of.tag, has: true },
            { kind: "clicked", has: true, days: 14 },
          ],
        },
        bought(null, false),
      ),
    ],
  ] as const
}
