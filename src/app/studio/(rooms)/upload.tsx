"use client"

import { useEffect, useId, useState } from "react"
import { refusals } from "@/core/words/refusals"

export type Uploaded = { readonly id: number; readonly url: string; readonly name: string }

type Kind = "picture" | "video" | "file" | "people"

const accepts: Record<Kind, string> = {
  picture: "image/png,image/jpeg,image/webp,image/gif,image/avif,image/svg+xml",
  video: "video/mp4,video/webm",
  file: "",
  people: ".csv,.tsv,.txt,text/csv,text/plain",
}

/** Larger than this, it is sent bit by bit, and goes on where it was cut off (bytes). */
const large = 8e6

/** Sends a body up in one go; `progress` hears of it in hundredths. */
function sendOnce(to: string, body: File | null, progress: (percent: number) => void): Promise<Uploaded> {
  return new Promise((done, failed) => {
    const request = new XMLHttpRequest()
    request.open("POST", to)
    request.upload.onprogress = (e) => progress((100 * e.loaded) / e.total)
    request.onerror = () => failed(new Error(refusals.file.cutOff))
    request.onload = () => {
      const answer = request.response as Uploaded | { refused: string } | null
      if (answer && "id" in answer) done(answer)
      else failed(new Error(answer?.refused ?? refusals.file.cutOff))
    }
    request.responseType = "json"
    request.send(body)
  })
}

/** Sends a large file bit by bit (tus); one that was cut off before goes on where it stood. Gives its name. */
async function sendResumably(file: File, progress: (percent: number) => void): Promise<string> {
  const { Upload } = await import("tus-js-client")
  return new Promise((done, failed) => {
    const upload = new Upload(file, {
      endpoint: "/studio/resumable",
      chunkSize: 16e6,
      retryDelays: [0, 1000, 3000, 10_000, 30_000],
      removeFingerprintOnSuccess: true,
      onProgress: (sent, total) => progress((100 * sent) / total),
      onError: () => failed(new Error(refusals.file.cutOff)),
      onSuccess: () => done(upload.url!.split("/").at(-1)!),
    })
    upload.findPreviousUploads().then((before) => {
      if (before[0]) upload.resumeFromPreviousUpload(before[0])
      upload.start()
    }, failed)
  })
}

/** Sends one file up as what it is to be. */
export async function sendUp(kind: Kind, file: File, progress: (percent: number) => void): Promise<Uploaded> {
  const name = `name=${encodeURIComponent(file.name)}`
  if (kind === "people") return sendOnce(`/studio/import?${name}`, file, progress)
  const to = `/studio/upload?kind=${kind}&${name}`
  if (kind === "picture" || file.size <= large) return sendOnce(to, file, progress)
  return sendOnce(`${to}&upload=${await sendResumably(file, progress)}`, null, () => {})
}

/** Sends a file up, and says how it went. */
export function Upload({ kind, onDone, label }: { kind: Kind; onDone: (done: Uploaded) => void; label?: string }) {
  const id = useId()
  const [state, setState] = useState("")
  const [sending, setSending] = useState(false)
  useEffect(() => {
    if (!sending) return
    const stay = (e: BeforeUnloadEvent) => e.preventDefault()
    window.addEventListener("beforeunload", stay)
    return () => window.removeEventListener("beforeunload", stay)
  }, [sending])
  const send = async (file: File) => {
    setSending(true)
    setState("Sending… 0 %")
    try {
      const done = await sendUp(kind, file, (percent) => setState(`Sending… ${Math.round(percent)} %`))
      setState("")
      onDone(done)
    } catch (error) {
      setState((error as Error).message)
    }
    setSending(false)
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
