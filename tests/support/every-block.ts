// A page on which every block stands, with words in it, in any look.
import { type CompileContext, compilePage } from "@/core/funnel/compile"
import type { Step } from "@/core/funnel/draft"
import type { LookKind } from "@/core/look/list"
import { plainly, wear } from "@/core/look/look"
import { blockKinds } from "@/core/page/block/list"
import { fillPage } from "@/core/page/compile"
import { type Block, type BlockKind, readPage } from "@/core/page/document"
import { newBlock } from "@/core/page/edit"
import { sampleCourse, sampleFunnel } from "./sample"

const funnel = sampleFunnel()
const optin = funnel.steps.find((s) => s.kind === "optin")!
const picture = { url: "/media/a.webp", width: 1200, height: 800 }
const course = { ...sampleCourse, promises: ["Know what salt does", "Read a brine by eye"] }
export const offer = {
  id: 1,
  name: "A Year",
  promise: "Twelve crocks",
  picture,
  gives: ["A Year: 12 lessons", "The brine chart"],
  courses: [],
  ways: [
    {
      id: 1,
      name: "All at once",
      says: "You pay €290.00 today.",
      amount: "€290",
      accept: "",
      today: "€290.00",
      payments: 1,
      total: "€290.00",
    },
    {
      id: 2,
      name: "In four parts",
      says: "You pay €79.00 today, then …",
      amount: "4 × €79",
      accept: "",
      today: "€79.00",
      payments: 4,
      total: "€316.00",
    },
  ],
  left: 3,
  ends: { at: Date.parse("2027-01-31T22:59:00Z"), says: "31 January 2027" },
  note: "3 left.",
  refundDays: 30,
  open: true,
  once: { price: "290.00", currency: "EUR" },
}
const filled: { readonly [K in BlockKind]?: Partial<Extract<Block, { kind: K }>> } = {
  picture: { media: 1, alt: "Three jars" },
  video: { media: 2, says: "A crock is filled", plays: "asked", poster: 1, captions: 3 },
  audio: { media: 4, says: "How a crock sounds" },
  embed: { url: "https://films.example/embed/1", says: "A film elsewhere" },
  comparison: { offer: 1 },
  list: { items: ["One", "Two"] },
  lessons: { course: course.id },
  outcomes: { course: course.id },
  teacher: { teacher: 1 },
  quotes: { course: course.id },
  figures: { course: course.id, show: ["learners", "lately", "lessons", "hours", "rating"] },
  price: { offer: 1 },
  guarantee: { offer: 1 },
  countdown: { offer: 1 },
  announcement: { says: "The doors close", offer: 1 },
  questions: { title: "Asked before", items: [{ asks: "How long?", says: "As long as you like.\nReally." }] },
  numbered: {
    items: [
      { title: "Salt", says: "Weigh it." },
      { title: "Wait", says: "" },
    ],
  },
  gallery: { items: [{ media: 1, says: "A jar" }] },
  aside: { media: 1, alt: "A jar", html: "<p>Beside it</p>" },
  signature: { name: "Maren" },
  button: { says: "Go on", leads: { to: "form" }, note: "from €79" },
  reach: { says: "Go on", leads: { to: "form" }, offer: 1 },
  kept: { section: 1 },
  headline: { text: "A year of crocks", above: "With Maren" },
}
/** A block of a kind, filled. */
export const made = (kind: BlockKind, i: number): Block => ({ ...newBlock(kind, `b${i}`), ...filled[kind] }) as Block

/** What the kept section 1 holds. */
export const inKept = [
  newBlock("text", "b1"),
  { ...newBlock("section", "b2"), blocks: [newBlock("list", "b3")] } as Block,
]

const context = (look: LookKind, release: number): CompileContext => ({
  funnel: { ...funnel, courses: [course] },
  school: { name: "Juniper Crock", postalAddress: "4 Mill Lane", look: wear(plainly(look)) },
  pictures: new Map([[1, picture]]),
  videos: new Map([
    [2, { url: "/media/a.mp4", type: "video/mp4" }],
    [3, { url: "/media/a.vtt", type: "text/vtt" }],
    [4, { url: "/media/a.mp3", type: "audio/mpeg" }],
  ]),
  teachers: new Map([[1, { name: "Maren", about: "Fifteen years\nof jars", portrait: picture }]]),
  quotes: { [course.id]: [{ words: "Gone in a week.", name: "", portrait: null }] },
  figures: {
    [course.id]: {
      learners: 1204,
      lately: 12,
      names: ["Ana", "Tom", "Ute"],
      lessons: 3,
      hours: 3.4,
      rating: { average: 4.68, most: 5, people: 38 },
    },
  },
  offers: { 1: offer },
  kept: new Map([[1, inKept]]),
  release,
})

/** The kinds that stand on any page, and a form. */
export const stand = (Object.keys(blockKinds) as BlockKind[]).filter(
  (k) => blockKinds[k].onlyWhere === undefined || k === "form",
)
/** A page of these, as a visitor gets it; `release` 0: as the editor draws it. */
export const pageOf = (blocks: Block[], look: LookKind, more: object = {}, release = 0) => {
  const step: Step = { ...optin, page: readPage({ version: 1, title: "A page", blocks, ...more }) }
  return fillPage(compilePage(step, context(look, release)).pieces, {})
}
