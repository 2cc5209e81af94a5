"use client"

import { useState } from "react"
import ReactCrop, { type PercentCrop } from "react-image-crop"
import "react-image-crop/dist/ReactCrop.css"
import { Button } from "@/ui/button"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { cutPictureAction, focusPictureAction } from "../../actions"

const shapes = [
  ["Free", undefined],
  ["Square", 1],
  ["4 : 3", 4 / 3],
  ["16 : 9", 16 / 9],
  ["Portrait 4 : 5", 4 / 5],
] as const

type Focus = readonly [number, number]

/** A picture, with what matters in it, and what may be cut away. */
export function PicturePlace({
  id,
  url,
  focus: kept,
  width,
  height,
}: {
  id: number
  url: string
  focus: Focus
  width: number
  height: number
}) {
  const [cutting, setCutting] = useState(false)
  const [focus, setFocus] = useState(kept)
  const { busy, run, refused } = useAction()
  const put = (at: Focus) => {
    const next = at.map((n) => Math.min(100, Math.max(0, Math.round(n)))) as unknown as Focus
    setFocus(next)
    run(() => focusPictureAction(id, next))
  }
  if (cutting) return <Cut id={id} url={url} width={width} height={height} done={() => setCutting(false)} />
  const keys: Record<string, Focus> = {
    ArrowLeft: [-5, 0],
    ArrowRight: [5, 0],
    ArrowUp: [0, -5],
    ArrowDown: [0, 5],
  }
  return (
    <>
      <button
        type="button"
        aria-label={`What matters in it: ${focus[0]} % from the left, ${focus[1]} % from the top. Arrows move it.`}
        className="relative block max-w-full cursor-crosshair overflow-hidden rounded-md border border-line bg-shallow"
        onClick={(e) => {
          if (e.detail === 0) return
          const box = e.currentTarget.getBoundingClientRect()
          put([(100 * (e.clientX - box.left)) / box.width, (100 * (e.clientY - box.top)) / box.height])
        }}
        onKeyDown={(e) => {
          const by = keys[e.key]
          if (!by) return
          e.preventDefault()
          put([focus[0] + by[0], focus[1] + by[1]])
        }}
      >
        <img src={url} alt="" width={width} height={height} className="max-h-[26rem] w-auto" />
        <span
          aria-hidden
          className="absolute size-7 -translate-x-1/2 -translate-y-1/2 rounded-full border-2 border-white bg-slate/50 shadow-[0_0_0_2px_#14262d]"
          style={{ left: `${focus[0]}%`, top: `${focus[1]}%` }}
        />
      </button>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <Button onClick={() => setCutting(true)}>Crop</Button>
        <p className="min-w-0 flex-1 text-note text-soft">
          Press on what matters in it: wherever it is shown in another shape, that stays in sight.
        </p>
      </div>
      <div className="mt-3 flex items-end gap-3" aria-hidden>
        {(
          [
            ["aspect-[16/9]", "w-32"],
            ["aspect-square", "w-20"],
            ["aspect-[4/5]", "w-16"],
          ] as const
        ).map(([shape, wide]) => (
          <img
            key={shape}
            src={url}
            alt=""
            className={`${shape} ${wide} rounded object-cover`}
            style={{ objectPosition: `${focus[0]}% ${focus[1]}%` }}
          />
        ))}
      </div>
      <Refusal>{busy ? "" : refused}</Refusal>
    </>
  )
}

function Cut({
  id,
  url,
  width,
  height,
  done,
}: {
  id: number
  url: string
  width: number
  height: number
  done: () => void
}) {
  const [cut, setCut] = useState<PercentCrop>({ unit: "%", x: 10, y: 10, width: 80, height: 80 })
  const [shape, setShape] = useState<number | undefined>(undefined)
  const { busy, run, refused } = useAction()
  const choose = (ratio: number | undefined) => {
    setShape(ratio)
    if (!ratio) return
    const across = Math.min(90, (90 * height * ratio) / width)
    const down = (across * width) / (ratio * height)
    setCut({ unit: "%", x: (100 - across) / 2, y: (100 - down) / 2, width: across, height: down })
  }
  return (
    <>
      <fieldset aria-label="Shape" className="mb-2 flex flex-wrap gap-2">
        {shapes.map(([says, ratio]) => (
          <Button key={says} aria-pressed={shape === ratio} onClick={() => choose(ratio)}>
            {says}
          </Button>
        ))}
      </fieldset>
      <ReactCrop crop={cut} onChange={(_, percent) => setCut(percent)} {...(shape ? { aspect: shape } : {})}>
        <img src={url} alt="" width={width} height={height} className="max-h-[26rem] w-auto" />
      </ReactCrop>
      <p className="mt-1 text-note text-soft tabular-nums">
        {Math.round((cut.width * width) / 100)} × {Math.round((cut.height * height) / 100)} pixels. The whole picture
        stays in Media.
      </p>
      <div className="mt-2 flex gap-2">
        <Button
          look="primary"
          disabled={busy || cut.width < 1 || cut.height < 1}
          onClick={() =>
            run(
              () =>
                cutPictureAction(id, {
                  left: cut.x / 100,
                  top: cut.y / 100,
                  width: cut.width / 100,
                  height: cut.height / 100,
                }),
              done,
            )
          }
        >
          {busy ? "Cropping…" : "Crop, and show that everywhere"}
        </Button>
        <Button onClick={done}>Leave it whole</Button>
      </div>
      <Refusal>{refused}</Refusal>
    </>
  )
}
