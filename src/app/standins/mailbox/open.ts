import { notFound } from "next/navigation"
import { context } from "@/app/guard"

/** The mailbox's folder; a real school has none, unless it was started with one for trying out. */
export function mailboxFolder(): string {
  const { config } = context()
  return config.hasMailbox ? config.mailboxFolder : notFound()
}
