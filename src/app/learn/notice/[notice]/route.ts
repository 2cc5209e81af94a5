import { addressOfCaller, context, learner, learning } from "@/app/guard"
import { pressNotice } from "@/server/notice/show"

/** The button of a notice: it is counted, and leads to where the notice says. */
export async function GET(_: Request, { params }: { params: Promise<{ notice: string }> }): Promise<Response> {
  const { notice } = await params
  const who = await learner()
  const s = who ? learning(who) : context()
  const goTo = /^\d{1,9}$/.test(notice) ? await pressNotice(s, who, Number(notice), await addressOfCaller()) : null
  return new Response(null, { status: 303, headers: { location: goTo ?? "/learn", "cache-control": "no-store" } })
}
