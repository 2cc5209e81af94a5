import { notFound } from "next/navigation"
import { surroundings } from "@/app/door"

/** The mailbox's folder; a real school has none, unless it was started with one for trying out. */
export function mailboxFolder(): string {
  const { config } = surroundings()
  return config.hasMailbox ? config.mailboxFolder : notFound()
}
