import type { Metadata } from "next"
import { redirect } from "next/navigation"
import { admitted, context } from "@/app/guard"
import { myFile } from "@/server/course/my-files"
import { mediaLink } from "@/server/media/store"
import { Link } from "@/ui/link"
import { TakeAway } from "../../take-away"

export const metadata: Metadata = { title: "Your file" }

/** The page of one file, for whoever has it. */
export default async function FilePage({ params }: { params: Promise<{ file: string }> }) {
  const { file: id } = await params
  const person = await admitted()
  if (person === null) redirect(`/learn/sign-in?to=${encodeURIComponent(`/learn/file/${id}`)}`)
  const s = context()
  const file = /^\d{1,9}$/.test(id) ? await myFile(s, person, Number(id)) : undefined
  return (
    <>
      <p className="text-body">
        <Link href="/learn" className="inline-block min-h-6 text-slate hover:underline">
          ‹ My courses
        </Link>
      </p>
      {file ? (
        <>
          <h1 className="mt-1 mb-4 [overflow-wrap:anywhere]">{file.name.replace(/\.[^.]*$/, "")}</h1>
          <TakeAway says={file.name} size={file.size} href={mediaLink(s.config, file.stored, Date.now())} />
        </>
      ) : (
        <>
          <h1 className="mt-1">This file isn’t among yours</h1>
          <p className="mt-2">If you took it with another address, sign in with that one.</p>
        </>
      )}
    </>
  )
}
