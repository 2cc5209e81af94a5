"use client"

import { useRouter } from "next/navigation"
import { useEffect, useRef, useState } from "react"
import { clock } from "@/core/course/chapters"
import { filmsOf } from "@/core/page/film"
import { option } from "@/ui/field"
import { watchedAction } from "../../actions"

/** A chapter where it begins, seconds. */
type Chapter = { readonly at: number; readonly title: string }

const speeds = [0.75, 1, 1.25, 1.5, 2] as const

/** A video that goes on where it was left on this device, at a chosen speed, with captions. */
export function LessonVideo({
  id,
  src,
  says,
  captions,
  download,
  chapters,
  course,
  lesson,
  watches,
}: {
  id: number
  src: string
  says: string
  captions: string | null
  /** The name it is taken away by; null: it isn't. */
  download: string | null
  chapters: readonly Chapter[]
  course: string
  lesson: number
  /** Whether watching it to the end makes the lesson done. */
  watches: boolean
}) {
  const video = useRef<HTMLVideoElement>(null)
  const router = useRouter()
  const [speed, setSpeed] = useState(1)
  const key = `heron-video-${id}`
  const [chapter, setChapter] = useState(-1)
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
        onTimeUpdate={(e) => {
          const at = e.currentTarget.currentTime
          localStorage.setItem(key, String(Math.floor(at)))
          setChapter(chapters.findLastIndex((c) => c.at <= at + 0.05))
        }}
        onEnded={async () => {
          localStorage.removeItem(key)
          if (!watches) return
          await watchedAction(course, lesson)
          router.refresh()
        }}
      >
        {filmsOf(source).map((f) => (
          <source key={f.src} src={f.src} media={f.media} />
        ))}
        {captions ? <track kind="captions" src={captions} srcLang="en" label="Captions" default /> : null}
      </video>
      <figcaption className="mt-1 flex flex-wrap items-center gap-x-4 text-body text-soft">
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
            {speeds.map((s) => option(s, `${s} ×`))}
          </select>
        </label>
        {download ? (
          <a href={source} download={download} className="min-h-8 content-center text-slate underline">
            Take it away
          </a>
        ) : null}
      </figcaption>
      {chapters.length ? (
        <ol aria-label="Chapters" className="mt-2 rounded-lg border border-line">
          {chapters.map((c, i) => (
            <li key={c.at} className="border-b border-line last:border-0">
              <button
                type="button"
                aria-current={i === chapter ? "true" : undefined}
                className="flex min-h-10 w-full items-baseline gap-3 px-3 py-1.5 text-left hover:underline aria-[current=true]:font-semibold"
                onClick={() => {
                  const v = video.current
                  if (!v) return
                  v.currentTime = c.at
                  setChapter(i)
                  void v.play().catch(() => {})
                }}
              >
                <span className="w-14 text-right text-soft tabular-nums">{clock(c.at)}</span>
                <span className="min-w-0 [overflow-wrap:anywhere]">{c.title}</span>
              </button>
            </li>
          ))}
        </ol>
      ) : null}
    </figure>
  )
}
