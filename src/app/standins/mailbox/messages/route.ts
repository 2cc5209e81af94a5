import { listMessages } from "@/standins/mailbox/store"
import { mailboxFolder } from "../open"

export async function GET(request: Request): Promise<Response> {
  const to = new URL(request.url).searchParams.get("to") ?? undefined
  const all = await listMessages(mailboxFolder(), to)
  return Response.json(all.slice(0, 500).map((m) => ({ ...m, to: m.to.join(", ") })))
}
