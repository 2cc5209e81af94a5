"use client"

import { useId, useState } from "react"

export type Uploaded = { readonly id: number; readonly url: string; readonly name: string }

const accepts = {
  picture: "image/png,image/jpeg,image/webp,image/gif,image/avif",
  video: "video/mp4,video/webm",
  file: "",
  people: ".csv,.tsv,.txt,text/csv,text/plain",
} as const

/** Sends a file up, and says how it went. */
export function Upload({
  kind,
  onDone,
  label,
}: {
  kind: keyof typeof accepts
  onDone: (done: Uploaded) => void
  label?: string
}) {
  const id = useId()
  const [state, setState] = useState("")
  const send = (file: File) => {
    setState("Sending… 0 %")
    const request = new XMLHttpRequest()
    const to = kind === "people" ? "/studio/import?" : `/studio/upload?kind=${kind}&`
    request.open("POST", `${to}name=${encodeURIComponent(file.name)}`)
    request.upload.onprogress = (e) => setState(`Sending… ${Math.round((100 * e.loaded) / e.total)} %`)
    request.onerror = () => setState("It didn't arrive. Please try again.")
    request.onload = () => {
      const done = request.response as Uploaded | { refused: string } | null
      if (done && "id" in done) {
        setState("")
        onDone(done)
      } else setState(done?.refused ?? "It didn't arrive. Please try again.")
    }
    request.responseType = "json"
    request.send(file)
  }
  return (
    <div>
      <label htmlFor={id} className="mb-1 block text-label font-semibold">
        {label ?? `Upload a ${kind}`}
      </label>
      <input
        id={id}
        type="file"
        accept={accepts[kind]}
        className="w-full text-label file:mr-2 file:rounded-md file:border file:border-line file:bg-card file:px-2.5 file:py-1 file:font-semibold"
        onChange={(e) => e.target.files?.[0] && send(e.target.files[0])}
      />
      <p role="status" className="mt-1 text-label font-semibold text-dusk empty:hidden">
        {state}
      </p>
    </div>
  )
}
