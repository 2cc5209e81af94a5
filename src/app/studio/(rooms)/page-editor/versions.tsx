"use client"

import { useEffect, useState } from "react"
import { bringBack, compare } from "@/core/page/compare"
import type { Page } from "@/core/page/document"
import type { PageOf } from "@/server/page/version"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { type Listed, nameVersionAction, versionAction, versionsAction } from "./actions"

/** A page as it was: its versions, what is different since in words and beside each other, and the way back, whole or part by part. */
export function Versions({
  whose,
  page,
  draw,
  onTake,
  onClose,
}: {
  whose: PageOf
  page: Page
  draw: (page: Page) => string
  onTake: (page: Page) => void
  onClose: () => void
}) {
  const [list, setList] = useState<readonly Listed[] | null>(null)
  const [chosen, setChosen] = useState<{ readonly version: Listed; readonly page: Page } | null>(null)
  const { busy, run, refused } = useAction()
  // biome-ignore lint/correctness/useExhaustiveDependencies: whose page it is stays
  useEffect(() => void versionsAction(whose).then(setList), [])
  const choose = (version: Listed) =>
    run(
      () => versionAction(whose, version.id),
      (done) => {
        if ("page" in done) setChosen({ version, page: done.page })
      },
    )
  const name = (says: string) => {
    const version = chosen?.version
    if (!version || says.trim() === (version.name ?? "")) return
    run(
      () => nameVersionAction(whose, version.id, says),
      () => {
        const named = { ...version, name: says.trim() || null }
        setChosen({ ...chosen, version: named })
        setList((all) => all?.map((x) => (x.id === named.id ? named : x)) ?? null)
      },
    )
  }
  const differences = chosen ? compare(chosen.page, page) : []
  return (
    <section
      aria-label="Versions"
      className="absolute inset-0 z-20 grid min-h-0 grid-cols-[15rem_minmax(0,1fr)] bg-paper"
    >
      <div className="flex min-h-0 flex-col border-r border-line">
        <div className="px-3 pt-3">
          <Button className="w-full" onClick={onClose}>
            Back to the page
          </Button>
          <h2 className="mt-3 px-1">Versions</h2>
        </div>
        <ul className="min-h-0 flex-1 overflow-auto p-2">
          {list?.map((x) => (
            <li key={x.id}>
              <button
                type="button"
                aria-pressed={x.id === chosen?.version.id}
                onClick={() => choose(x)}
                className={`w-full rounded-md px-2 py-1.5 text-left ${x.id === chosen?.version.id ? "bg-card ring-2 ring-amber" : "hover:bg-card"}`}
              >
                {x.name ? <strong className="block [overflow-wrap:anywhere]">{x.name}</strong> : null}
                {x.at}
                {x.who ? <span className="block truncate text-fine text-soft">{x.who}</span> : null}
              </button>
            </li>
          ))}
        </ul>
        {list?.length === 0 ? (
          <p className="px-4 pb-4 text-soft">
            Nothing was changed yet. Each change is kept here from the first one on.
          </p>
        ) : null}
      </div>
      <div className="flex min-h-0 flex-col gap-3 overflow-auto p-4">
        <Refusal>{refused}</Refusal>
        {chosen ? (
          <>
            <div className="flex flex-wrap items-end gap-3">
              <TextField
                key={chosen.version.id}
                label={`Name of the version of ${chosen.version.at}`}
                defaultValue={chosen.version.name ?? ""}
                maxLength={80}
                onBlur={(e) => name(e.target.value)}
              />
              <Button
                look="primary"
                disabled={busy || !differences.length}
                onClick={() => {
                  onTake(chosen.page)
                  onClose()
                }}
              >
                Bring all of it back
              </Button>
            </div>
            <div>
              <h3>{differences.length ? "What is different since" : "Nothing is different since"}</h3>
              <ul className="max-w-3xl">
                {differences.map((d) => (
                  <li
                    key={`${d.is} ${d.block}`}
                    className="flex items-center justify-between gap-4 border-t border-line py-1 [overflow-wrap:anywhere]"
                  >
                    {d.says}
                    <Button look="quiet" className="shrink-0" onClick={() => onTake(bringBack(page, chosen.page, d))}>
                      Take back
                    </Button>
                  </li>
                ))}
              </ul>
            </div>
            <div className="grid min-h-96 flex-1 grid-cols-2 gap-4">
              <Picture title={`As it was ${chosen.version.at}`} html={draw(chosen.page)} />
              <Picture title="As it is now" html={draw(page)} />
            </div>
          </>
        ) : (
          <p className="max-w-prose text-soft">
            Choose a version to see what is different since, and to bring it back. One with a name stays; of the others
            fewer are kept the older they are.
          </p>
        )}
      </div>
    </section>
  )
}

const [wide, small] = [1200, 0.42]

function Picture({ title, html }: { title: string; html: string }) {
  return (
    <figure className="flex min-h-0 flex-col">
      <figcaption className="mb-1 text-note font-semibold">{title}</figcaption>
      <div className="min-h-0 flex-1 overflow-hidden rounded-md border border-line bg-white">
        <iframe
          title={title}
          sandbox=""
          tabIndex={-1}
          srcDoc={html}
          style={{ width: wide, height: `${100 / small}%`, transform: `scale(${small})`, transformOrigin: "0 0" }}
        />
      </div>
    </figure>
  )
}
