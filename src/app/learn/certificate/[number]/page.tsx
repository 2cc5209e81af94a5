import type { Metadata } from "next"
import { addressOfCaller, surroundings } from "@/app/door"
import { locale } from "@/core/words/locale"
import { seeCertificate } from "@/server/course/certificate"
import { schoolHead } from "@/server/school-view"

export const metadata: Metadata = { title: "Certificate", robots: { index: false } }

/** Says to anybody who has its number whether a certificate is genuine. */
export default async function CertificatePage({ params }: { params: Promise<{ number: string }> }) {
  const s = surroundings()
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
      <p className="mt-3 text-lg">
        <strong>{found.name}</strong> has done the whole of <strong>{found.title}</strong> at {school.name}, on {day}.
      </p>
    </>
  )
}
