"use client"

import { useRouter } from "next/navigation"
import { useEffect, useId, useState } from "react"
import { sendUp } from "../../upload"

type Coming = { readonly key: number; readonly name: string; readonly says: string; readonly failed?: true }

const kindOf = ({ type }: File) =>
  type.startsWith("image/") ? "picture" : type.startsWith("video/") ? "video" : ("file" as const)

let last = 0

/** Takes files that are dropped, pasted or chosen, one after another, each with how far it is. */
export function Bring() {
  const id = useId()
  const router = useRouter()
  const [coming, setComing] = useState<readonly Coming[]>([])
  const [over, setOver] = useState(false)
  const take = async (files: readonly File[]) => {
    const mine = files.map((file) => ({ file, key: ++last }))
    const say = (key: number, says: string, failed?: true) =>
      setComing((all) => all.map((c) => (c.key === key ? { ...c, says, ...(failed ? { failed } : {}) } : c)))
    setComing((all) => [...all, ...mine.map(({ file, key }) => ({ key, name: file.name, says: "waits" }))])
    for (const { file, key } of mine)
      try {
        await sendUp(kindOf(file), file, (percent) => say(key, `${Math.round(percent)} %`))
        setComing((all) => all.filter((c) => c.key !== key))
        router.refresh()
      } catch (error) {
        say(key, (error as Error).message, true)
      }
  }
  useEffect(() => {
    const paste = (e: ClipboardEvent) => {
      const files = [...(e.clipboardData?.files ?? [])]
      if (files.length) take(files)
    }
    window.addEventListener("paste", paste)
    return () => window.removeEventListener("paste", paste)
  })
  return (
    <section
      aria-label="New media"
      onDragOver={(e) => {
        e.preventDefault()
        setOver(true)
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault()
        setOver(false)
        take([...e.dataTransfer.files])
      }}
      className={`mt-3 rounded-lg border border-dashed p-4 ${over ? "border-slate bg-shallow" : "border-line bg-card"}`}
    >
      <label htmlFor={id} className="font-semibold">
        Drop pictures, videos or files here, paste them, or choose them
      </label>
      <input
        id={id}
        type="file"
        multiple
        className="mt-2 block w-full text-label file:mr-2 file:rounded-md file:border file:border-line file:bg-card file:px-2.5 file:py-1 file:font-semibold"
        onChange={(e) => {
          take([...(e.target.files ?? [])])
          e.target.value = ""
        }}
      />
      <p className="mt-1 text-note text-soft">
        Up to 2 GB each. What is cut off goes on where it stood when you choose the same file again.
      </p>
      <div role="status">
        <ul>
          {coming.map((c) => (
            <li key={c.key} className="mt-1 flex flex-wrap gap-x-2">
              <span className="min-w-0 truncate">{c.name}</span>
              <span className={c.failed ? "font-semibold text-dusk" : "text-soft"}>{c.says}</span>
            </li>
          ))}
        </ul>
      </div>
    </section>
  )
}
