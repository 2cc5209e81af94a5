"use client"

import { useRouter } from "next/navigation"
import { useEffect, useRef, useState } from "react"
import { watchedAction } from "../../actions"

const speeds = [0.75, 1, 1.25, 1.5, 2] as const

/** A video that goes on where it was left on this device, at a chosen speed, with captions. */
export function LessonVideo({
  id,
  src,
  type,
  says,
  captions,
  download,
  course,
  lesson,
  watches,
}: {
  id: number
  src: string
  type: string
  says: string
  captions: string | null
  /** The name it is taken away by; null: it isn't. */
  download: string | null
  course: string
  lesson: number
  /** Whether watching it to the end makes the lesson done. */
  watches: boolean
}) {
  const video = useRef<HTMLVideoElement>(null)
  const router = useRouter()
  const [speed, setSpeed] = useState(1)
  const key = `heron-video-${id}`
  // The link is signed anew at each look; the video that is playing keeps the one it began with.
  const [source] = useState(src)

  useEffect(() => {
    const v = video.current
    if (!v) return
    const left = Number(localStorage.getItem(key)) || 0
    const resume = () => {
      if (left > 5 && left < v.duration - 5) v.currentTime = left
    }
    if (v.readyState >= 1) resume()
    else v.addEventListener("loadedmetadata", resume, { once: true })
    return () => v.removeEventListener("loadedmetadata", resume)
  }, [key])

  return (
    <figure>
      <video
        ref={video}
        controls
        preload="metadata"
        playsInline
        aria-label={says}
        className="w-full rounded-lg bg-bar"
        onTimeUpdate={(e) => localStorage.setItem(key, String(Math.floor(e.currentTarget.currentTime)))}
        onEnded={async () => {
          localStorage.removeItem(key)
          if (!watches) return
          await watchedAction(course, lesson)
          router.refresh()
        }}
      >
        <source src={source} type={type} />
        {captions ? <track kind="captions" src={captions} srcLang="en" label="Captions" default /> : null}
      </video>
      <figcaption className="mt-1 flex flex-wrap items-center gap-x-4 text-[0.93rem] text-soft">
        <span className="min-w-0 flex-1">{says}</span>
        <label className="flex items-center gap-1.5">
          Speed
          <select
            value={speed}
            className="min-h-8 rounded border border-line bg-card px-1"
            onChange={(e) => {
              const to = Number(e.target.value)
              setSpeed(to)
              if (video.current) video.current.playbackRate = to
            }}
          >
            {speeds.map((s) => (
              <option key={s} value={s}>
                {s} ×
              </option>
            ))}
          </select>
        </label>
        {download ? (
          <a href={source} download={download} className="min-h-8 content-center text-slate underline">
            Take it away
          </a>
        ) : null}
      </figcaption>
    </figure>
  )
}
