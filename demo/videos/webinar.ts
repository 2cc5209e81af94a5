// The recording of the demo's webinar, two minutes that stand for sixty: what each slide says, its chapter, and the words over it.
type Slide = {
  readonly title: string
  readonly lines: readonly string[]
  /** Its captions, by second of the slide. */
  readonly says: readonly (readonly [at: number, words: string])[]
}

/** How long a slide stands, seconds. */
export const slideSeconds = 15

export const slides: readonly Slide[] = [
  {
    title: "Why brine goes cloudy",
    lines: ["Maren Solvik", "Juniper Crock"],
    says: [
      [0, "Good evening, and welcome. I am Maren."],
      [6, "You have a jar at home, and its brine has gone milky. Is it spoiled?"],
    ],
  },
  {
    title: "Three days after salting",
    lines: ["clear", "hazy", "milky"],
    says: [
      [0, "On the first day a brine is clear. On the third it is hazy, and on the fifth it looks like milk."],
      [8, "That is not dirt. That is a crowd."],
    ],
  },
  {
    title: "Who lives in there",
    lines: ["lactic acid bacteria", "yeasts", "very few others"],
    says: [
      [0, "Lactic acid bacteria: millions in every drop by now."],
      [7, "They turn sugar into acid, and the acid keeps everybody else away."],
    ],
  },
  {
    title: "Good cloud, bad cloud",
    lines: ["sour smell: good", "a ring of fuzz: take it off", "pink or slimy: throw it out"],
    says: [
      [0, "Trust your nose. Sour and fresh is good."],
      [6, "Fuzz on top comes off with a spoon. Pink or slimy goes out."],
    ],
  },
  {
    title: "What salt does",
    lines: ["2 %: fast and soft", "3 %: what I take", "5 %: slow and crisp"],
    says: [
      [0, "Two in a hundred works fast. Three is what I take. Five is slow, and stays crisp."],
      [9, "Weigh it. A spoon is not a scale."],
    ],
  },
  {
    title: "Settling",
    lines: ["into the cold", "after a week: clear again", "the white floor is fine"],
    says: [
      [0, "Put the jar into the cold, and the crowd sinks to the floor."],
      [7, "That white floor is fine. Pour gently, or stir it in."],
    ],
  },
  {
    title: "A year of this",
    lines: ["twelve vegetables", "one each month", "A Year in Ferments"],
    says: [
      [0, "If you would like to do this all year with me: that is what the course is for."],
      [8, "What it costs for you tonight stands below, and until when."],
    ],
  },
  {
    title: "Your questions",
    lines: ["write them beside me", "I answer by e-mail, too"],
    says: [
      [0, "Write your questions. What I don't get to, I answer by e-mail."],
      [7, "Thank you for coming. Go and look at your jar."],
    ],
  },
]

/** Captions as a file, WebVTT (W3C): each until the next one. */
export function webinarCaptions(): string {
  const all = slides.flatMap((slide, i) => slide.says.map(([at, words]) => ({ at: i * slideSeconds + at, words })))
  const time = (s: number) => `00:${String(Math.floor(s / 60)).padStart(2, "0")}:${String(s % 60).padStart(2, "0")}.000`
  const cues = all.map(
    (c, i) => `${time(c.at)} --> ${time(all[i + 1]?.at ?? slides.length * slideSeconds)}\n${c.words}`,
  )
  return `WEBVTT\n\n${cues.join("\n\n")}\n`
}

export const webinarChapters = slides.map((s, i) => ({ at: i * slideSeconds, title: s.title }))
