// Where somebody came from, in words.
import { codeOfSource } from "../source"

/** A journey that began by a link of an affiliate says so by their name, or else by their code. */
export function sourceText(source: string | null, names: ReadonlyMap<string, string> = new Map()): string {
  const code = source === null ? null : codeOfSource(source)
  return code === null ? (source ?? "") : `${names.get(code) || code}, an affiliate`
}
