// The nine who recommend Juniper Crock, and what they are given to do it with. All of them are invented.

type Recommender = {
  readonly name: string
  /** Null: one of the buyers. */
  readonly email: string | null
  readonly code?: string
  readonly state: "active" | "asked"
  /** Days since they began. */
  readonly ago: number
  readonly shown: boolean
  /** How many read them, one beside the other. */
  readonly readers: number
  readonly clicks: number
  /** Names of the places where their links stand. */
  readonly places: readonly string[]
  readonly iban?: string
  readonly holder?: string
  readonly postal?: string
  /** Days since anybody last followed a link of theirs. */
  readonly quiet?: number
}

export const recommenders: readonly Recommender[] = [
  {
    name: "Ida Fennimore",
    email: "ida@saltcupboard.example",
    code: "ida",
    state: "active",
    ago: 358,
    shown: true,
    readers: 10,
    clicks: 1240,
    places: ["sunday-letter", "pantry-page", ""],
    iban: "GB29NWBK60161331926819",
    postal: "3 Tallow Row\nHexford",
  },
  {
    name: "Tomas Oakley",
    email: "tomas@slowjars.example",
    code: "slow-jars",
    state: "active",
    ago: 340,
    shown: true,
    readers: 7,
    clicks: 860,
    places: ["episode-31", "episode-38", "show-notes"],
    iban: "DE89370400440532013000",
    postal: "Lindengasse 4\nAltmühl",
  },
  {
    name: "Eleni Kara",
    email: "eleni@brinebook.example",
    code: "eleni",
    state: "active",
    ago: 300,
    shown: true,
    readers: 5,
    clicks: 410,
    places: ["blog", "recipe-card"],
    iban: "GR1601101250000000012300695",
    holder: "Ελένη Καρά",
    postal: "Odos Elaias 12\nNea Alykes",
  },
  {
    name: "Ravi Mendel",
    email: "ravi@cabbagepress.example",
    code: "ravi",
    state: "active",
    ago: 270,
    shown: false,
    readers: 3,
    clicks: 380,
    places: ["newsletter", ""],
  },
  {
    name: "Greta Holm",
    email: "greta@kitchenledger.example",
    code: "greta",
    state: "active",
    ago: 240,
    shown: false,
    readers: 0,
    clicks: 520,
    places: ["banner"],
    quiet: 75,
  },
  {
    name: "",
    email: null,
    state: "active",
    ago: 220,
    shown: false,
    readers: 3,
    clicks: 90,
    places: ["friends", ""],
    iban: "NL91ABNA0417164300",
  },
  {
    name: "",
    email: null,
    state: "active",
    ago: 150,
    shown: true,
    readers: 2,
    clicks: 60,
    places: ["market-stall", ""],
    iban: "AT611904300234573201",
  },
  { name: "", email: null, state: "active", ago: 90, shown: false, readers: 1, clicks: 25, places: [""] },
  {
    name: "Bram Ketteridge",
    email: "bram@fridgenotes.example",
    state: "asked",
    ago: 2,
    shown: false,
    readers: 0,
    clicks: 0,
    places: [""],
  },
]

export const conditions = `You recommend our courses in your own words, to people who know you or read you.

You say that you are paid for it, where you recommend, and you don't promise what the course doesn't.

You don't buy advertisements with our name, you don't write to people who haven't asked for it, and you don't use your own link for what you buy yourself.

We count a sale for you where your link was the last one within thirty days before, or your coupon was used. Commission is due thirty days after a payment, and is paid on the first of a month from €20 on. What is given back to a buyer is taken off.

Either of us can end this at any time; what you have earned by then is paid.`

export const words = {
  about:
    "Twelve months, twelve crocks: learners of A Year in Ferments cook along with the seasons and keep asking each other over. If you have a kitchen, a letter or a stall where people ask how you get it so crisp, this is for you. You get a link of your own, lines and pictures ready to use, and a part of every sale that comes by it.",
  letters: [
    {
      title: "Three lines for a letter",
      words:
        "I have kept a crock going all year, and it is because of Maren Solvik. Her course takes one ferment a month, when its vegetables are at their best, so that you are never behind. Have a look: ‹my link›\n\n(I am paid a part of it if you join by this link.)",
    },
    {
      title: "For under a recipe",
      words: "Learned in A Year in Ferments by Juniper Crock, which I recommend and am paid a part of: ‹my link›",
    },
  ],
} as const
