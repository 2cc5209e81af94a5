import { notFound } from "next/navigation"
import { surroundings } from "@/app/door"

/** The mailbox's folder; in a real school there is no mailbox. */
export function mailboxFolder(): string {
  const { config } = surroundings()
  return config.mode === "own" ? notFound() : config.mailboxFolder
}
