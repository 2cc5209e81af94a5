// What the mailbox stand-in has received: one file a message, and a line for each in an index.
import { appendFile, mkdir, readFile, writeFile } from "node:fs/promises"
import { join } from "node:path"
import { simpleParser } from "mailparser"

export type Envelope = {
  readonly id: number
  readonly from: string
  readonly to: readonly string[]
  readonly subject: string
  readonly date: string
}

const index = (folder: string) => join(folder, "index.jsonl")

/** Keeps a message; one call at a time. Ids count up from 1. */
export async function keepMessage(folder: string, id: number, raw: Buffer, rcpt: readonly string[]): Promise<void> {
  const mail = await simpleParser(raw, { skipHtmlToText: true, skipTextToHtml: true, skipImageLinks: true })
  const envelope: Envelope = {
    id,
    from: mail.from?.text ?? "",
    to: rcpt,
    subject: mail.subject ?? "",
    date: (mail.date ?? new Date()).toISOString(),
  }
  await writeFile(join(folder, `${id}.eml`), raw)
  await appendFile(index(folder), `${JSON.stringify(envelope)}\n`)
}

/** Newest first; only those to an address where one is given. */
export async function listMessages(folder: string, to?: string): Promise<Envelope[]> {
  const lines = (await readFile(index(folder), "utf8").catch(() => "")).split("\n").filter(Boolean)
  const all = lines.map((l) => JSON.parse(l) as Envelope).reverse()
  return to ? all.filter((m) => m.to.some((t) => t.toLowerCase() === to.toLowerCase())) : all
}

export async function rawMessage(folder: string, id: number): Promise<Buffer | undefined> {
  return Number.isInteger(id) && id > 0 ? readFile(join(folder, `${id}.eml`)).catch(() => undefined) : undefined
}

export async function lastId(folder: string): Promise<number> {
  await mkdir(folder, { recursive: true })
  return (await listMessages(folder))[0]?.id ?? 0
}
