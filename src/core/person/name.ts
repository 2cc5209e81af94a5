// A person's name, as they typed it into a form.

/** The most characters a name may have. */
export const longestName = 80

/**
 * Trims and folds white space. Returns null where the name is over long or carries a line break, a control character,
 * or a character that would turn the direction of what follows it; an empty name is a name.
 */
export function parseName(typed: string): string | null {
  const name = typed.trim().normalize("NFC")
  if (/[\p{Cc}\p{Zl}\p{Zp}\u202A-\u202E\u2066-\u2069]/u.test(name)) return null
  const folded = name.replace(/\s+/g, " ")
  return [...folded].length > longestName ? null : folded
}

/**
 * The name as a mail may say it: empty where it carries an address or a domain, so that nobody can have us send a stranger
 * a link of theirs in place of a name.
 */
export function nameInMail(name: string): string {
  return /:\/\/|@|[\p{L}\p{N}-]\.\p{L}{2,}/u.test(name) ? "" : name
}
