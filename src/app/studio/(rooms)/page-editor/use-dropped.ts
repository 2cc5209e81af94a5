"use client"

import { useEffect, useRef, useState } from "react"
import { sendUp, type Uploaded } from "../upload"

/** What came: a film, or a picture with its size in pixels. */
export type Dropped = {
  readonly film: boolean
  readonly done: Uploaded
  readonly width: number
  readonly height: number
}

const isPicture = (file: File) => file.type.startsWith("image/")
const isFilm = (file: File) => file.type === "video/mp4" || file.type === "video/webm"

async function sizeOf(url: string): Promise<{ width: number; height: number }> {
  const image = new Image()
  image.src = url
  await image.decode()
  return { width: image.naturalWidth, height: image.naturalHeight }
}

/**
 * Pictures and films that are pasted, or dropped anywhere in the window: each is sent up, and taken. Gives what is said of it, and how to
 * listen in a document that stands in a frame.
 */
export function useDropped(take: (dropped: Dropped) => void): {
  readonly says: string
  readonly listenIn: (doc: Document) => () => void
} {
  const [says, setSays] = useState("")
  const taking = useRef(take)
  taking.current = take
  const listenIn = useRef((doc: Document) => {
    const send = async (files: readonly File[]) => {
      for (const file of files) {
        const film = isFilm(file)
        if (!film && !isPicture(file)) continue
        try {
          const to = film ? "video" : "picture"
          const done = await sendUp(to, file, (percent) => setSays(`Sending ${file.name}… ${Math.round(percent)} %`))
          const size = film ? { width: 0, height: 0 } : await sizeOf(done.url)
          taking.current({ film, done, ...size })
          setSays("")
        } catch (error) {
          setSays((error as Error).message)
        }
      }
    }
    const drop = (e: DragEvent) => {
      const files = [...(e.dataTransfer?.files ?? [])]
      if (!files.length) return
      e.preventDefault()
      void send(files)
    }
    const over = (e: DragEvent) => {
      if (e.dataTransfer?.types.includes("Files")) e.preventDefault()
    }
    const paste = (e: ClipboardEvent) => {
      const files = [...(e.clipboardData?.files ?? [])].filter((f) => isPicture(f) || isFilm(f))
      // What comes from a text editor brings its words along, and often a picture of them: the words are wanted.
      if (!files.length || e.clipboardData?.types.includes("text/html")) return
      e.preventDefault()
      void send(files)
    }
    doc.addEventListener("drop", drop)
    doc.addEventListener("dragover", over)
    doc.addEventListener("paste", paste)
    return () => {
      doc.removeEventListener("drop", drop)
      doc.removeEventListener("dragover", over)
      doc.removeEventListener("paste", paste)
    }
  })
  useEffect(() => listenIn.current(document), [])
  return { says, listenIn: listenIn.current }
}
