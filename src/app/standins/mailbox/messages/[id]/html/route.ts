import { simpleParser } from "mailparser"
import { rawMessage } from "@/standins/mailbox/store"
import { mailboxFolder } from "../../../open"

/** The message as its receiver would see it: in a frame that runs nothing. Links open outside it. */
export async function GET(_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const raw = await rawMessage(mailboxFolder(), Number((await params).id))
  if (!raw) return new Response("No such message", { status: 404 })
  const mail = await simpleParser(raw)
  const html = (
    mail.html || `<pre>${(mail.text ?? "").replace(/[<&]/g, (c) => (c === "<" ? "&lt;" : "&amp;"))}</pre>`
  ).replace(/<head>/i, '<head><base target="_top">')
  return new Response(html, { headers: { "content-type": "text/html; charset=utf-8" } })
}
