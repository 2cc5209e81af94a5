import { rawMessage } from "@/standins/mailbox/store"
import { mailboxFolder } from "../../open"

export async function GET(_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const raw = await rawMessage(mailboxFolder(), Number((await params).id))
  if (!raw) return new Response("No such message", { status: 404 })
  return new Response(new Uint8Array(raw), { headers: { "content-type": "text/plain; charset=utf-8" } })
}
