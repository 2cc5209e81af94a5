"use client"

import { useRouter } from "next/navigation"
import { Upload } from "../../upload"

/** Takes a file of people to the school, and goes on to what is in it. */
export function ChooseFile() {
  const router = useRouter()
  return (
    <div className="mt-4 max-w-xl">
      <Upload kind="people" label="Choose a file" onDone={(done) => router.push(`/studio/people/import/${done.id}`)} />
    </div>
  )
}
