// What the six videos of the demo say, by the picture that they are made from: captions by second, chapters, and where in
// the picture the camera goes (shares of width and height).
type DemoVideo = {
  readonly towards: readonly [number, number]
  readonly says: readonly (readonly [at: number, words: string])[]
  readonly chapters: readonly (readonly [at: number, title: string])[]
}

export const videos = {
  cabbage: {
    towards: [0.4, 0.6],
    says: [
      [0, "This is all you need: one cabbage, and salt."],
      [5, "A kilogram of cabbage takes twenty grams. Weigh it."],
      [11, "Take off the outer leaves, and keep one of them."],
      [17, "Then cut it as fine as you like to eat it."],
    ],
    chapters: [
      [0, "What you need"],
      [11, "Cutting"],
    ],
  },
  knead: {
    towards: [0.5, 0.7],
    says: [
      [0, "Salt on the cabbage, and both hands into it."],
      [5, "After five minutes it feels wet."],
      [10, "After ten it stands in its own brine."],
      [15, "No water is added. It is all in there."],
    ],
    chapters: [
      [0, "Salting"],
      [10, "The brine"],
    ],
  },
  weight: {
    towards: [0.5, 0.4],
    says: [
      [0, "Into the jar, a handful at a time, and pressed down."],
      [6, "The leaf you kept goes on top."],
      [11, "A boiled stone holds everything under the brine."],
      [16, "What is under brine is safe."],
    ],
    chapters: [
      [0, "Into the jar"],
      [11, "The weight"],
    ],
  },
  bubbles: {
    towards: [0.4, 0.7],
    says: [
      [0, "On the second day it begins to work."],
      [5, "Bubbles, a little foam, and a smell of sour apples."],
      [11, "Open the lid once a day, and close it again."],
    ],
    chapters: [
      [0, "The second day"],
      [11, "Letting it breathe"],
    ],
  },
  taste: {
    towards: [0.6, 0.3],
    says: [
      [0, "After a week, taste it."],
      [4, "Sour enough? Then it goes into the cold."],
      [10, "Not yet? Give it another week. It keeps."],
    ],
    chapters: [],
  },
  shelf: {
    towards: [0.5, 0.5],
    says: [
      [0, "A year on a shelf: twelve jars, and each has its month."],
      [6, "In January we begin with what has patience: roots."],
      [12, "Three percent of salt, and six weeks on the stairs."],
    ],
    chapters: [
      [0, "The shelf"],
      [6, "Roots"],
    ],
  },
} as const satisfies Record<string, DemoVideo>

/** Captions as a file, WebVTT (W3C): each until the next one, the last for six seconds. */
export function captionsOf(v: DemoVideo): string {
  const time = (s: number) => `00:00:${String(s).padStart(2, "0")}.000`
  const cues = v.says.map(([at, words], i) => `${time(at)} --> ${time(v.says[i + 1]?.[0] ?? at + 6)}\n${words}`)
  return `WEBVTT\n\n${cues.join("\n\n")}\n`
}
