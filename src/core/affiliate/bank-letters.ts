// The letters that every bank of SEPA takes (EPC217-08: the Latin character set of its rulebooks), and what the others become:
// Latin letters lose their marks, Greek and Cyrillic ones are written by the tables of that paper (ELOT 743 and the Bulgarian
// streamlined system; for other Cyrillic letters ISO 9 without its marks), what has no letter becomes a full stop. From memory.

/** a to z, A to Z, 0 to 9, and / - ? : ( ) . , ' + and the space. */
const allowed = /[A-Za-z0-9/\-?:().,'+ ]/

const greek: Readonly<Record<string, string>> = pairs(
  "Α A Β V Γ G Δ D Ε E Ζ Z Η I Θ TH Ι I Κ K Λ L Μ M Ν N Ξ X Ο O Π P Ρ R Σ S Τ T Υ Y Φ F Χ CH Ψ PS Ω O",
)
const cyrillic: Readonly<Record<string, string>> = pairs(
  "А A Б B В V Г G Д D Е E Ж ZH З Z И I Й Y К K Л L М M Н N О O П P Р R С S Т T У U Ф F Х H Ц TS Ч CH Ш SH Щ SHT Ъ A Ь Y Ю YU Я YA " +
    "Ё E Ы Y Э E І I Ї YI Є YE Ґ G Ў U Ђ DJ Ј J Љ LJ Њ NJ Ћ C Џ DZH Ѓ GJ Ќ KJ Ѕ DZ",
)
const latin: Readonly<Record<string, string>> = pairs("Æ AE Œ OE Ø O Đ D Ð D Ł L Þ T Ħ H Ŋ N Ŧ T Ə E ẞ SS")
const signs: Readonly<Record<string, string>> = {
  ß: "ss",
  ı: "i",
  "&": "+",
  "@": "(at)",
  _: "-",
  "–": "-",
  "—": "-",
  "’": "'",
  "‘": "'",
  "`": "'",
  "´": "'",
  "“": "'",
  "”": "'",
  '"': "'",
  "«": "'",
  "»": "'",
  ";": ",",
  "!": ".",
  "[": "(",
  "]": ")",
  "{": "(",
  "}": ")",
  "=": ".",
  "*": ".",
  "#": ".",
  "%": ".",
  "€": "E",
  ς: "s",
}

function pairs(text: string): Record<string, string> {
  const words = text.split(" ")
  return Object.fromEntries(words.flatMap((w, i) => (i % 2 ? [] : [[w, words[i + 1]!]])))
}

export type BankText = {
  readonly text: string
  /** Whether anything had to be written otherwise. */
  readonly changed: boolean
}

/**
 * A text as a bank takes it, at most so many characters; never begins or ends with a slash nor has two in a row, as the
 * rulebooks ask. Where nothing is left it is a full stop.
 */
export function bankText(typed: string, most: number): BankText {
  const plain = typed
    .normalize("NFC")
    .replace(/\s+/g, " ")
    .trim()
    // The one pair of Greek letters that reads as another than its parts.
    .replace(/([Οο])([υύΥΎ])/g, (_, o: string, u: string) => (o === "Ο" ? "O" : "o") + (/[ΥΎ]/.test(u) ? "U" : "u"))
  const letters = [...new Intl.Segmenter("en", { granularity: "grapheme" }).segment(plain)].map((g) =>
    letterOf(g.segment),
  )
  const text = letters
    .join("")
    .replace(/\/{2,}/g, "/")
    .replace(/ {2,}/g, " ")
    .slice(0, most)
    .replace(/^[/ ]+|[/ ]+$/g, "")
  return { text: text || ".", changed: (text || ".") !== typed }
}

/** One letter as it is read, with the marks it may have. */
function letterOf(letter: string): string {
  if (letter.length === 1 && allowed.test(letter)) return letter
  const known = lookUp(letter)
  if (known !== undefined) return known
  const parts = letter.normalize("NFKD").replace(/\p{M}/gu, "")
  if (!parts) return ""
  return [...parts].map((c) => (allowed.test(c) ? c : (lookUp(c) ?? "."))).join("")
}

function lookUp(c: string): string | undefined {
  if (signs[c] !== undefined) return signs[c]
  const upper = c.toUpperCase()
  const found = greek[upper] ?? cyrillic[upper] ?? latin[upper]
  if (found === undefined) return undefined
  // A capital that becomes two letters is written as one begins a word.
  return c === upper ? found[0]! + found.slice(1).toLowerCase() : found.toLowerCase()
}
