import type { Metadata } from "next"
import { addressOfCaller, context } from "@/app/guard"
import { numberWords } from "@/core/course/certificate"
import { locale } from "@/core/words/locale"
import { seeCertificate } from "@/server/course/certificate"
import { schoolHead } from "@/server/school-view"

export const metadata: Metadata = { title: "Certificate", robots: { index: false } }

/** Says to anybody who has its number whether a certificate is genuine. */
export default async function CertificatePage({ params }: { params: Promise<{ number: string }> }) {
  const s = context()
  const found = await seeCertificate(s, (await params).number, await addressOfCaller())
  const school = await schoolHead(s.db)
  if (found === "too-many")
    return (
      <>
        <h1>One moment, please</h1>
        <p className="mt-3">Too many numbers were looked up from your connection. Please try again in an hour.</p>
      </>
    )
  if (found === null)
    return (
      <>
        <h1>No certificate has this number</h1>
        <p className="mt-3">Please compare it with the sheet, letter by letter.</p>
      </>
    )
  const day = new Intl.DateTimeFormat(locale, { dateStyle: "long", timeZone: school.zone }).format(found.at)
  return (
    <>
      <h1>This certificate is genuine</h1>
      <div className="mt-5 rounded-lg border-2 border-slate bg-card px-5 py-8 text-center">
        <p className="font-display font-bold text-soft">{school.name}</p>
        <p className="mt-4 font-display text-2xl font-bold [overflow-wrap:anywhere]">{found.name}</p>
        <p className="mt-3 text-soft">has done the whole of</p>
        <p className="mt-1 font-display text-xl font-bold [overflow-wrap:anywhere]">{found.title}</p>
        <p className="mt-4">{day}</p>
        <p className="mt-6 text-body text-soft">Number {numberWords(found.number)}</p>
      </div>
    </>
  )
}
