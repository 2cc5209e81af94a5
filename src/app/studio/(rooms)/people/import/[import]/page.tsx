import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { readImport } from "@/server/person/import"
import { Back } from "@/ui/link"
import { idOf } from "../../../asked"
import { ImportRoom } from "./import-room"

export const metadata = { title: "Import" }

export default async function OneImportPage({ params }: { params: Promise<{ import: string }> }) {
  const s = await studio()
  const seen = await readImport(s, idOf((await params).import))
  if (!seen) notFound()
  return (
    <div className="mx-auto max-w-6xl pt-2">
      <Back href="/studio/people/import">Imports</Back>
      <h1 className="mt-1 truncate">{seen.name}</h1>
      <ImportRoom seen={seen} />
    </div>
  )
}
