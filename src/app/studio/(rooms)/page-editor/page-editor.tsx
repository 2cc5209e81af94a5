"use client"

import { useRouter } from "next/navigation"
import { useCallback, useEffect, useMemo, useReducer, useRef, useState } from "react"
import type { Funnel, Step } from "@/core/funnel/draft"
import type { Look } from "@/core/look/look"
import { blockKinds } from "@/core/page/block/list"
import { allBlocks, type Block, type BlockKind, type Page, type PageForm } from "@/core/page/document"
import {
  changeBlock,
  freeId,
  insertAfter,
  moveBlock,
  newBlock,
  pointBelow,
  removeBlock,
  sayInBlock,
  withoutPoint,
} from "@/core/page/edit"
import { mergePages } from "@/core/page/merge"
import type { Field } from "@/core/person/field"
import type { PageSaved } from "@/server/page/save"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { KeysDialog } from "@/ui/keys-dialog"
import { Link } from "@/ui/link"
import type { ActionAnswer } from "@/ui/use-action"
import { saveWords, useSaved } from "@/ui/use-saved"
import { BlockSettings } from "./block/list"
import type { EditorFile, EditorPicture, EditorVideo } from "./block/settings"
import { BlockList } from "./block-list"
import { describe } from "./describe"
import { type FoundAt, PageSettings } from "./page-settings"
import { useDropped } from "./use-dropped"
import { useInPlace } from "./use-in-place"
import { useWeight } from "./use-weight"

const editorKeys = [
  ["N", "add below"],
  ["Alt ↑  Alt ↓", "move"],
  ["Delete", "remove"],
  ["[  ]", "the page before, the page after"],
  ["Ctrl Z", "undo"],
  ["Ctrl Shift Z", "redo"],
] as const

export type PageEditorProps = {
  readonly page: Page
  readonly revision: number
  /** What the page is called, and a note below it. */
  readonly name: string
  readonly note: string
  /** Where it belongs, at the left of the bar. */
  readonly home: { readonly says: string; readonly href: string }
  /** The pages before and after; undefined where there is none. */
  readonly before: Neighbour | undefined
  readonly after: Neighbour | undefined
  readonly look: Look
  /** The kinds of block that may be added. */
  readonly kinds: readonly BlockKind[]
  /** Where it is found; null for a lesson, which has no title of its own and is found by nobody. */
  readonly found: FoundAt | null
  readonly pictures: readonly EditorPicture[]
  readonly videos: readonly EditorVideo[]
  readonly files: readonly EditorFile[]
  readonly courses: readonly { id: number; title: string }[]
  readonly offers: readonly { readonly id: number; readonly name: string }[]
  /** Who teaches, by number. */
  readonly teachers?: readonly { readonly id: number; readonly name: string }[]
  /** The school's fields, where a form can stand. */
  readonly fields?: readonly Field[]
  /** Whom a block can be for, on a page. */
  readonly segments?: readonly { readonly id: number; readonly name: string }[]
  /** The step that it is a page of; null for a lesson. */
  readonly of: { readonly funnel: Funnel; readonly step: Step } | null
  readonly firstBlock: string | null
  /** The whole document of the page as it will stand. */
  draw(page: Page, pictures: readonly EditorPicture[], videos: readonly EditorVideo[]): string
  save(revision: number, page: Page, base: Page): Promise<PageSaved>
  /** Has all pages of its funnel in the same form, where it is of one. */
  wearAlike?(form: PageForm): Promise<ActionAnswer>
}

export type Neighbour = { readonly name: string; readonly note: string; readonly href: string }

type History = {
  readonly past: readonly Page[]
  readonly page: Page
  readonly future: readonly Page[]
  readonly run: string
  /** Goes up when the page changes by anything but the fields: they begin anew then. */
  readonly turn: number
}
type Act =
  | { do: "change"; page: Page; run: string; outside?: true }
  | { do: "settle" }
  | { do: "undo" }
  | { do: "redo" }

/** Keystrokes in one field are one step back; anything else is a step of its own. */
function history(h: History, a: Act): History {
  if (a.do === "change") {
    const together = a.run !== "" && a.run === h.run
    return {
      past: together ? h.past : [...h.past.slice(-199), h.page],
      page: a.page,
      future: [],
      run: a.run,
      turn: h.turn + (a.outside ? 1 : 0),
    }
  }
  // What was written on the page itself comes into the fields.
  if (a.do === "settle") return { ...h, run: "", turn: h.turn + 1 }
  if (a.do === "undo") {
    const before = h.past.at(-1)
    return before
      ? { past: h.past.slice(0, -1), page: before, future: [h.page, ...h.future], run: "", turn: h.turn + 1 }
      : h
  }
  const after = h.future[0]
  return after ? { past: [...h.past, h.page], page: after, future: h.future.slice(1), run: "", turn: h.turn + 1 } : h
}

/** A page of blocks, beside itself: what is on it, how it will stand, and the settings of the part that is selected. */
export function PageEditor({
  page: given,
  revision,
  name,
  note,
  home,
  before,
  after,
  look,
  kinds,
  found,
  pictures: givenPictures,
  videos: givenVideos,
  files: givenFiles,
  courses,
  offers,
  teachers = [],
  fields = [],
  segments = [],
  of,
  firstBlock,
  draw: drawn,
  save: store,
  wearAlike,
}: PageEditorProps) {
  const [h, act] = useReducer(history, { past: [], page: given, future: [], run: "", turn: 0 })
  const { page } = h
  const [selected, setSelected] = useState<string | null>(firstBlock ?? page.blocks[0]?.id ?? null)
  const [phone, setPhone] = useState(false)
  const [adding, setAdding] = useState(false)
  const [keys, setKeys] = useState(false)
  const [pictures, setPictures] = useState(givenPictures)
  const [files, setFiles] = useState(givenFiles)
  const [videos, setVideos] = useState(givenVideos)
  const frame = useRef<HTMLIFrameElement>(null)
  /** What stood when last heard of: its revision, and the page. */
  const known = useRef({ revision, page: given })
  const latest = useRef(page)
  latest.current = page
  const [clash, setClash] = useState<Extract<PageSaved, { clash: unknown }> | null>(null)
  const router = useRouter()

  /** Another window's page comes in below what was changed here since `sent`. */
  const takeIn = useCallback((revision: number, stored: Page, sent: Page) => {
    known.current = { revision, page: stored }
    act({ do: "change", page: mergePages(sent, latest.current, stored).merged, run: "", outside: true })
  }, [])
  const save = useCallback(
    async (value: Page) => {
      if (value === known.current.page) return null
      const done = await store(known.current.revision, value, known.current.page)
      if ("refused" in done) return done
      if ("clash" in done) {
        setClash(done)
        return { refused: "Another window has changed the same. Choose which one stays." }
      }
      setClash(null)
      if (done.page) takeIn(done.revision, done.page, value)
      else known.current = { revision: done.revision, page: value }
      return null
    },
    [store, takeIn],
  )
  const saved = useSaved(page, save)
  const settle = (whose: "mine" | "theirs") => {
    if (!clash) return
    known.current = { revision: clash.revision, page: clash.theirs }
    act({ do: "change", page: whose === "theirs" ? clash.theirs : { ...page }, run: "", outside: true })
    setClash(null)
  }
  // After Back, or when another act has changed it: what is saved comes in.
  useEffect(() => {
    if (revision <= known.current.revision) return
    if (!mergePages(known.current.page, latest.current, given).clashes.length)
      takeIn(revision, given, known.current.page)
  }, [revision, given, takeIn])

  const blocks = useMemo(() => [...allBlocks(page.blocks)], [page])
  const block = blocks.find((b) => b.id === selected) ?? null
  const change = (next: Page, run = "") => act({ do: "change", page: next, run })
  const place = block ? blocks.indexOf(block) + 1 : 0

  const { says: sending, listenIn } = useDropped(({ film, done, width, height }) => {
    if (film) setVideos((all) => [...all, { ...done, type: "video/mp4" }])
    else setPictures((all) => [...all, { ...done, width, height }])
    const now = latest.current
    const here = [...allBlocks(now.blocks)].find((b) => b.id === selected)
    const kind = film ? "video" : "picture"
    if (here?.kind === kind && "media" in here && here.media === null)
      return change(changeBlock(now, here.id, { media: done.id } as Partial<Block>))
    const made = { ...newBlock(kind, freeId(now)), media: done.id } as Block
    change(insertAfter(now, selected, made))
    setSelected(made.id)
  })
  // Sound and captions are files, and play as videos do.
  const playing = useMemo(() => [...videos, ...files.map((f) => ({ type: "", ...f }))], [videos, files])
  const html = useMemo(() => drawn(page, pictures, playing), [drawn, page, pictures, playing])

  const pressed = useRef((_: KeyboardEvent) => {})
  const goOn = (to: ReturnType<typeof pointBelow>) => {
    if (to) act({ do: "change", page: to.page, run: "", outside: true })
    return to?.path ?? null
  }
  useInPlace(
    frame,
    { html, turn: h.turn, chosen: selected },
    {
      says: (id, path, says) => change(sayInBlock(latest.current, id, path, says), `${id}:${path}`),
      below: (id, path) => goOn(pointBelow(latest.current, id, path)),
      without: (id, path) => goOn(withoutPoint(latest.current, id, path)),
      settle: () => act({ do: "settle" }),
      choose: setSelected,
      key: (e) => pressed.current(e),
    },
    listenIn,
  )

  const add = (kind: BlockKind) => {
    const made = newBlock(kind, freeId(page))
    change(insertAfter(page, selected, made))
    setSelected(made.id)
    setAdding(false)
  }
  const move = (way: "up" | "down") => selected && change(moveBlock(page, selected, way))
  const remove = () => {
    if (!block) return
    const next = blocks[place] ?? blocks[place - 2]
    change(removeBlock(page, block.id))
    setSelected(next && next.id !== block.id ? next.id : null)
  }

  const walk = (by: number) => {
    const to = by < 0 ? before : after
    if (to) router.push(to.href)
  }

  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const typing = (e.target as HTMLElement).closest("input, select, textarea, [contenteditable]")
      if (
        (e.ctrlKey || e.metaKey) &&
        e.key.toLowerCase() === "z" &&
        !(e.target as HTMLElement).closest("[contenteditable]:not([data-says])")
      ) {
        e.preventDefault()
        act({ do: e.shiftKey ? "redo" : "undo" })
      } else if (
        e.altKey &&
        (e.key === "ArrowUp" || e.key === "ArrowDown") &&
        !(e.target as HTMLElement).closest("select")
      ) {
        e.preventDefault()
        move(e.key === "ArrowUp" ? "up" : "down")
      } else if (typing || e.ctrlKey || e.metaKey || e.altKey || (e.target as HTMLElement).closest("[role=dialog]"))
        return
      else if (e.key === "n") {
        e.preventDefault()
        setAdding(true)
      } else if (e.key === "[") walk(-1)
      else if (e.key === "]") walk(1)
      else if (e.key === "?") setKeys(true)
      else if (e.key === "Delete") remove()
    }
    pressed.current = key
    window.addEventListener("keydown", key)
    return () => window.removeEventListener("keydown", key)
  })

  const [figures, setFigures] = useState(false)
  const line = describe(page, html, useWeight(html), look)
  return (
    <div className="-mx-5 -mt-3 -mb-8 flex flex-col lg:h-[calc(100vh-44px)]">
      <div className="flex min-h-14 flex-wrap items-stretch border-b border-line bg-shallow">
        <Link href={home.href} className="flex w-52 flex-col justify-center px-5 hover:underline">
          <span className="truncate font-bold">{home.says}</span>
          <span
            role="status"
            className={`truncate text-fine ${typeof saved === "object" ? "font-semibold text-dusk" : "text-soft"}`}
            title={saveWords(saved)}
          >
            {saveWords(saved)}
          </span>
        </Link>
        <StripLink to={before} says="‹" keyName="[" />
        <div className="flex w-52 flex-col justify-center border-x border-line bg-card px-4">
          <h1 className="truncate font-sans text-lead font-bold">{name}</h1>
          <span className="truncate text-fine text-soft">{note}</span>
        </div>
        <StripLink to={after} says="›" keyName="]" />
        <div className="ml-auto flex items-center gap-2 pr-5">
          <Button aria-pressed={phone} look={phone ? "primary" : "plain"} onClick={() => setPhone(true)}>
            Phone
          </Button>
          <Button aria-pressed={!phone} look={phone ? "plain" : "primary"} onClick={() => setPhone(false)}>
            Desktop
          </Button>
        </div>
      </div>

      {clash ? (
        <div role="alert" className="flex items-center gap-3 border-b border-amber bg-amber-wash px-5 py-2">
          <p>{clashWords(clash.clash, page, clash.theirs)}</p>
          <Button onClick={() => settle("mine")}>Keep mine</Button>
          <Button onClick={() => settle("theirs")}>Take the other page</Button>
        </div>
      ) : null}
      <div className="grid grid-cols-1 min-h-0 flex-1 lg:grid-cols-[13.2rem_minmax(0,1fr)_18.5rem]">
        <nav aria-label="On this page" className="overflow-auto border-r border-line p-3">
          <h2 className="mb-1 px-2 font-sans text-label font-semibold text-soft">On this page</h2>
          <BlockList blocks={page.blocks} selected={selected} onSelect={setSelected} />
          <Button className="mt-3 w-full" onClick={() => setAdding(true)}>
            Add below <kbd className="font-sans font-normal text-soft">N</kbd>
          </Button>
        </nav>
        <div className="relative flex h-[70vh] min-h-0 justify-center bg-line/60 p-4 lg:h-auto">
          <iframe
            ref={frame}
            title={`${name}, as it will stand`}
            sandbox="allow-same-origin"
            srcDoc="<!doctype html><html><head></head><body></body></html>"
            className="h-full rounded-md bg-white shadow-lg"
            style={{ width: phone ? "min(100%, 360px)" : "min(100%, 1080px)" }}
          />
          <p
            role="status"
            className="absolute bottom-6 rounded-md bg-card px-3 py-1.5 font-semibold shadow-lg empty:hidden"
          >
            {sending}
          </p>
        </div>
        <section aria-label="Settings" className="overflow-auto border-l border-line bg-card p-4">
          {block ? (
            <>
              <div className="mb-3 flex items-center justify-between gap-2">
                <h2 className="first-letter:uppercase">{blockKinds[block.kind].name}</h2>
                <span className="rounded bg-amber-wash px-1.5 py-0.5 text-fine font-semibold text-amber-text">
                  {place} of {blocks.length}
                </span>
              </div>
              <BlockSettings
                key={`${block.id}:${h.turn}`}
                block={block}
                of={of}
                pictures={pictures}
                courses={courses}
                videos={videos}
                files={files}
                onFile={(f) => setFiles([f, ...files])}
                offers={offers}
                teachers={teachers}
                fields={fields}
                segments={segments}
                onVideo={(v) => setVideos([v, ...videos])}
                onPicture={(p) => setPictures([p, ...pictures])}
                onChange={(c: Partial<Block>, run) => change(changeBlock(page, block.id, c), `${block.id}:${run}`)}
              />
              <div className="mt-4 flex flex-wrap gap-2 border-t border-line pt-3">
                <Button onClick={() => move("up")} title="Alt ↑">
                  Move up
                </Button>
                <Button onClick={() => move("down")} title="Alt ↓">
                  Move down
                </Button>
                <Button look="danger" onClick={remove}>
                  Remove
                </Button>
              </div>
            </>
          ) : (
            <p className="text-soft">Choose a part of the page, or add one.</p>
          )}
          {found && wearAlike ? (
            <PageSettings
              wearAlike={wearAlike}
              page={page}
              found={found}
              pictures={pictures}
              onPicture={(p) => setPictures([p, ...pictures])}
              onChange={change}
            />
          ) : null}
        </section>
      </div>

      <div className="flex min-h-11 flex-wrap items-center gap-x-6 border-t border-line bg-card px-5 text-note">
        {line.map((l) => (
          <span key={l.says}>
            <strong className={l.good ? "text-reed" : "text-amber-text"}>{l.says}</strong>
            {figures ? <span className="text-soft tabular-nums"> ({l.figure})</span> : null}
          </span>
        ))}
        <button
          type="button"
          aria-pressed={figures}
          className="min-h-8 text-slate hover:underline"
          onClick={() => setFigures(!figures)}
        >
          Figures
        </button>
        <span className="ml-auto flex items-center gap-3 text-soft">
          <button
            type="button"
            disabled={!h.past.length}
            onClick={() => act({ do: "undo" })}
            className="min-h-7 hover:text-ink disabled:opacity-50"
          >
            Undo <kbd className="font-sans">Ctrl Z</kbd>
          </button>
          <button
            type="button"
            disabled={!h.future.length}
            onClick={() => act({ do: "redo" })}
            className="min-h-7 hover:text-ink disabled:opacity-50"
          >
            Redo <kbd className="font-sans">Ctrl Shift Z</kbd>
          </button>
          <button type="button" onClick={() => setKeys(true)} className="min-h-7 hover:text-ink">
            <kbd className="font-sans">?</kbd> keys
          </button>
        </span>
      </div>

      <Dialog
        open={adding}
        onOpenChange={setAdding}
        title={block ? `Add below: ${blockKinds[block.kind].name}` : "Add"}
      >
        <div className="grid grid-cols-2 gap-2">
          {kinds.map((k) => (
            <Button key={k} onClick={() => add(k)} className="justify-start">
              <span className="first-letter:uppercase">{blockKinds[k].name}</span>
            </Button>
          ))}
        </div>
      </Dialog>
      <KeysDialog keys={editorKeys} open={keys} onOpenChange={setKeys} />
    </div>
  )
}

/** What both windows changed, by what it says. */
function clashWords(ids: readonly string[], mine: Page, theirs: Page): string {
  const all = [...allBlocks(mine.blocks), ...allBlocks(theirs.blocks)]
  const names = ids.map((id) => {
    if (id === "title") return "the title"
    if (id === "order") return "the order of its parts"
    const found = all.find((b) => b.id === id)
    return found ? `“${blockKinds[found.kind].line(found).slice(0, 40)}”` : "a part"
  })
  return `Two windows have changed ${names.length > 1 ? `${names.slice(0, -1).join(", ")} and ${names.at(-1)}` : names[0]} of this page.`
}

function StripLink({ to, says, keyName }: { to: Neighbour | undefined; says: string; keyName: string }) {
  if (!to) return <div className="w-48" />
  return (
    <Link href={to.href} className="flex w-48 flex-col justify-center px-4 hover:bg-card/60">
      <span className="truncate font-semibold">
        {says === "‹" ? "‹ " : ""}
        {to.name}
        {says === "›" ? " ›" : ""}
      </span>
      <span className="text-fine text-soft">
        {to.note} <kbd className="ml-2 font-sans">{keyName}</kbd>
      </span>
    </Link>
  )
}
