// Small turns of phrase for what a funnel is written with before anyone has typed a word.

const numberWords = [
  "no",
  "one",
  "two",
  "three",
  "four",
  "five",
  "six",
  "seven",
  "eight",
  "nine",
  "ten",
  "eleven",
  "twelve",
]

export function spelled(n: number): string {
  return numberWords[n] ?? String(n)
}

/** A number as a text may say it, in a word or in digits. */
export const saidNumber = `${numberWords.join("|")}|\\d{1,3}`

export function numberSaid(word: string): number {
  const at = numberWords.indexOf(word.toLowerCase())
  return at >= 0 ? at : Number(word)
}

export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}

/** What a field takes, with an ellipsis where more was said; cut between characters, never inside one. */
export function clip(text: string, most: number): string {
  return text.length <= most
    ? text
    : `${text
        .slice(0, most - 1)
        .replace(/[\uD800-\uDBFF]$/, "")
        .trimEnd()}…`
}
