// A person as a card that address books read: vCard 4.0 (RFC 6350).

export type ContactCard = {
  readonly uid: string
  readonly name: string
  readonly email: string
  readonly zone: string
  readonly tags: readonly string[]
  /** ms */
  readonly changed: number
}

/** RFC 6350, 3.4: backslash, comma and line breaks are written with a backslash; no property here has parts set apart by ;. */
const text = (value: string) => value.replace(/[\\,]/g, "\\$&").replace(/\r\n|\r|\n/g, "\\n")

/** RFC 6350, 3.2: lines of at most 75 octets, goes on behind a space. Letters are never cut in the middle. */
function folded(line: string): string {
  const lines: string[] = []
  let now = ""
  let size = 0
  for (const letter of line) {
    const bytes = Buffer.byteLength(letter)
    if (size + bytes > (lines.length ? 74 : 75)) {
      lines.push(now)
      now = ""
      size = 0
    }
    now += letter
    size += bytes
  }
  return [...lines, now].join("\r\n ")
}

export function vcard(c: ContactCard): string {
  const rev = new Date(c.changed).toISOString().replace(/[-:]|\.\d+/g, "")
  return [
    "BEGIN:VCARD",
    "VERSION:4.0",
    `UID:${text(c.uid)}`,
    `FN:${text(c.name || c.email)}`,
    `EMAIL:${text(c.email)}`,
    `TZ:${text(c.zone)}`,
    ...(c.tags.length ? [`CATEGORIES:${c.tags.map(text).join(",")}`] : []),
    `REV:${rev}`,
    "END:VCARD",
  ]
    .map((line) => `${folded(line)}\r\n`)
    .join("")
}
