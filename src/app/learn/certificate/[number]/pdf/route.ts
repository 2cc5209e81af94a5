import { comeAgain, unlessBusy } from "@/app/busy"
import { context, learner } from "@/app/guard"
import { certificateFile } from "@/server/course/certificate"

/** A certificate to take away, for its owner. */
export async function GET(_: Request, { params }: { params: Promise<{ number: string }> }): Promise<Response> {
  const who = await learner()
  const number = (await params).number
  const pdf = who ? await unlessBusy(certificateFile(context(), who.person, number)) : undefined
  if (pdf === "busy") return comeAgain()
  if (!pdf) return Response.redirect(new URL(`/learn/certificate/${number}`, context().config.origin), 303)
  return new Response(pdf as BodyInit, {
    headers: {
      "content-type": "application/pdf",
      "content-disposition": 'attachment; filename="certificate.pdf"',
      "cache-control": "no-store",
    },
  })
}
