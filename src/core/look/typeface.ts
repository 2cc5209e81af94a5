// The typefaces that ship with the product (all under the SIL Open Font License), and the pairs that are offered.

export type Typeface = {
  readonly name: string
  /** What is drawn until it is there, and where it has no letters. */
  readonly fallback: string
  /** The file, without subset and end, in its package. */
  readonly file: `${string}/files/${string}`
  readonly end: string
  /** CSS: a weight, or the range of a variable font. */
  readonly weight: string
}

const sans = "system-ui,sans-serif"
const serif = "Georgia,serif"
const variable = (file: string, name: string, weight: string, fallback: string): Typeface => ({
  name,
  fallback,
  file: `@fontsource-variable/${file}/files/${file}`,
  end: "wght-normal.woff2",
  weight,
})
const single = (file: string, name: string, weight: number, fallback: string): Typeface => ({
  name,
  fallback,
  file: `@fontsource/${file}/files/${file}`,
  end: `${weight}-normal.woff2`,
  weight: String(weight),
})

export const typefaces = {
  fraunces: single("fraunces", "Fraunces", 600, serif),
  literata: single("literata", "Literata", 600, serif),
  lora: single("lora", "Lora", 600, serif),
  "barlow-condensed": single("barlow-condensed", "Barlow Condensed", 600, "'Arial Narrow',Arial,sans-serif"),
  bricolage: single("bricolage-grotesque", "Bricolage Grotesque", 700, "Verdana,Arial,sans-serif"),
  "plex-mono": single("ibm-plex-mono", "IBM Plex Mono", 400, "ui-monospace,monospace"),
  karla: variable("karla", "Karla", "200 800", sans),
  newsreader: variable("newsreader", "Newsreader", "200 800", serif),
  "space-grotesk": variable("space-grotesk", "Space Grotesk", "300 700", sans),
  outfit: variable("outfit", "Outfit", "100 900", sans),
  "instrument-sans": variable("instrument-sans", "Instrument Sans", "400 700", sans),
  "public-sans": variable("public-sans", "Public Sans", "100 900", sans),
  manrope: variable("manrope", "Manrope", "200 800", sans),
  rubik: variable("rubik", "Rubik", "300 900", sans),
} as const satisfies Record<string, Typeface>

export type TypefaceName = keyof typeof typefaces

export type Pair = {
  readonly display: TypefaceName
  readonly text: TypefaceName
  /** Small labels and numbers; not given: as text. */
  readonly label?: TypefaceName
}

/** Pairs of typefaces, each at most 60 KB in Latin letters (`look.test.ts`). */
export const pairs = {
  "fraunces-karla": { display: "fraunces", text: "karla" },
  newsreader: { display: "newsreader", text: "newsreader" },
  "space-grotesk": { display: "space-grotesk", text: "space-grotesk" },
  outfit: { display: "outfit", text: "outfit" },
  "instrument-plex": { display: "instrument-sans", text: "instrument-sans", label: "plex-mono" },
  "barlow-karla": { display: "barlow-condensed", text: "karla" },
  "bricolage-public": { display: "bricolage", text: "public-sans" },
  "lora-public": { display: "lora", text: "public-sans" },
  "literata-manrope": { display: "literata", text: "manrope" },
  "fraunces-public": { display: "fraunces", text: "public-sans" },
  manrope: { display: "manrope", text: "manrope" },
  rubik: { display: "rubik", text: "rubik" },
} as const satisfies Record<string, Pair>

export type PairName = keyof typeof pairs

/** The typefaces of a pair, each once. */
export function typefacesOf(pair: PairName): TypefaceName[] {
  const p: Pair = pairs[pair]
  return [...new Set([p.display, p.text, ...(p.label ? [p.label] : [])])]
}

/** As CSS names it. */
export const familyOf = (name: TypefaceName) => `'${typefaces[name].name}',${typefaces[name].fallback}`

/** What a pair is called: "Fraunces with Karla". */
export function pairName(pair: PairName): string {
  return typefacesOf(pair)
    .map((t) => typefaces[t].name)
    .join(" with ")
}

/** The letters of each subset, as the packages of Fontsource cut them (`unicode.json`). */
export const subsets = {
  latin:
    "U+0000-00FF,U+0131,U+0152-0153,U+02BB-02BC,U+02C6,U+02DA,U+02DC,U+0304,U+0308,U+0329,U+2000-206F,U+20AC,U+2122,U+2191,U+2193,U+2212,U+2215,U+FEFF,U+FFFD",
  "latin-ext":
    "U+0100-02BA,U+02BD-02C5,U+02C7-02CC,U+02CE-02D7,U+02DD-02FF,U+0304,U+0308,U+0329,U+1D00-1DBF,U+1E00-1E9F,U+1EF2-1EFF,U+2020,U+20A0-20AB,U+20AD-20C0,U+2113,U+2C60-2C7F,U+A720-A7FF",
} as const

/** Names by which pages that were published before ask for theirs. */
const before: Readonly<Record<string, string>> = {
  "public-sans.woff2": "public-sans-latin.woff2",
  "bricolage-grotesque.woff2": "bricolage-latin.woff2",
}

/** The file of a typeface in its package; undefined for a name that is none: "karla-latin.woff2". */
export function fontFile(name: string): string | undefined {
  if (Object.hasOwn(before, name)) return fontFile(before[name]!)
  const [, face, subset] = /^([a-z-]+?)-(latin|latin-ext)\.woff2$/.exec(name) ?? []
  if (!face || !Object.hasOwn(typefaces, face)) return undefined
  const t = typefaces[face as TypefaceName]
  return `${t.file}-${subset}-${t.end}`
}
