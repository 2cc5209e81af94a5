"use client"

import type { Editor } from "@tiptap/core"
import { useRouter } from "next/navigation"
import { type ReactNode, useCallback, useMemo, useRef, useState } from "react"
import type { Funnel, Step } from "@/core/funnel/draft"
import { hasPage, offerOf } from "@/core/funnel/step/list"
import type { Look } from "@/core/look/look"
import { blockKinds } from "@/core/page/block/list"
import { allBlocks, type Block, type BlockKind, type Page, type PageForm } from "@/core/page/document"
import { changeBlock, freeId, insertAfter, newBlock, pointBelow, sayInBlock, withoutPoint } from "@/core/page/edit"
import { keptBlocks } from "@/core/page/kept"
import type { Field } from "@/core/person/field"
import type { LinkTarget } from "@/server/page/links"
import type { PageSaved } from "@/server/page/save"
import type { PageOf } from "@/server/page/version"
import { Button } from "@/ui/button"
import { KeysDialog } from "@/ui/keys-dialog"
import { type Chip, fresh, letterNodes, withoutSources } from "@/ui/rich-text"
import type { ActionAnswer } from "@/ui/use-action"
import { versionBeforeAction } from "./actions"
import { type Addable, AddBlock } from "./add-block"
import { Bar, type Neighbour } from "./bar"
import { BlockSettings } from "./block/list"
import type { EditorFile, EditorPicture, EditorVideo } from "./block/settings"
import { Edge } from "./edge"
import { FootButton, FootLine } from "./foot-line"
import { KeepSection } from "./keep-section"
import { type FoundAt, PageSettings } from "./page-settings"
import { RichBar } from "./rich-bar"
import { Sheet } from "./sheet"
import { useClipboard } from "./use-clipboard"
import { useDropped } from "./use-dropped"
import { useInPlace } from "./use-in-place"
import { editorKeys, useKeys } from "./use-keys"
import { usePage } from "./use-page"
import { useParts } from "./use-parts"
import { Versions } from "./versions"

export type KeptSectionHere = { readonly id: number; readonly name: string; readonly blocks: readonly Block[] }

export type PageEditorProps = {
  readonly page: Page
  readonly revision: number
  /** By which its versions are found. */
  readonly whose: PageOf
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
  /** What is kept for use on several pages, with what pages show of it. */
  readonly sections?: readonly KeptSectionHere[]
  /** What links can lead to, besides the pages of the funnel. */
  readonly targets: readonly LinkTarget[]
  readonly firstBlock: string | null
  /** In an e-mail: the personal words that its text can have; `moment` makes one of a date and time. */
  readonly words?: { readonly chips: readonly Chip[]; moment(local: string): Chip }
  /** What stands in the bar besides. */
  readonly also?: ReactNode
  /** The whole document of the page as it will stand. */
  draw(page: Page, pictures: readonly EditorPicture[], videos: readonly EditorVideo[]): string
  save(revision: number, page: Page, base: Page): Promise<PageSaved>
  /** Has all pages of its funnel in the same form, where it is of one. */
  wearAlike?(form: PageForm): Promise<ActionAnswer>
}

/** How wide a page is shown, in pixels; as wide as the window where nothing is said. */
const widths = { Phone: 390, Desktop: 1200, Window: null } as const

/** A page that is written where it stands: at its true width, a thin edge beside it, and a sheet on whatever is opened. */
export function PageEditor({
  page: given,
  revision,
  whose,
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
  sections = [],
  targets,
  firstBlock,
  words,
  also = null,
  draw: drawn,
  save: store,
  wearAlike,
}: PageEditorProps) {
  const {
    page,
    turn,
    latest,
    saved,
    clash,
    canUndo,
    canRedo,
    cameBack,
    others,
    change,
    settleTyping,
    undo,
    redo,
    settle,
  } = usePage(whose, given, revision, store, (before, now) => versionBeforeAction(whose, before, now))
  const [shownAt, setShownAt] = useState<keyof typeof widths>("Desktop")
  const [sheet, setSheet] = useState<"part" | "page" | null>(firstBlock ? "part" : null)
  const [said, setSaid] = useState("")
  const parts = useParts(page, change, setSaid, firstBlock ?? page.blocks[0]?.id ?? null)
  const { block, choose } = parts
  const [looksBack, setLooksBack] = useState(false)
  const [written, setWritten] = useState<Editor | null>(null)
  const holding = useRef(false)
  const [adding, setAdding] = useState(false)
  const [keeping, setKeeping] = useState(false)
  const [keys, setKeys] = useState(false)
  const [pictures, setPictures] = useState(givenPictures)
  const [files, setFiles] = useState(givenFiles)
  const [videos, setVideos] = useState(givenVideos)
  const frame = useRef<HTMLIFrameElement>(null)
  const router = useRouter()

  const open = (part: string) => {
    choose(part)
    setSheet("part")
  }
  /** The part's tab at the edge. */
  const atEdge = () => tabOf(parts.last)?.focus({ preventScroll: true })

  const { says: sending, listenIn: dropsIn } = useDropped(({ film, done, width, height }) => {
    if (film) setVideos((all) => [...all, { ...done, type: "video/mp4" }])
    else setPictures((all) => [...all, { ...done, width, height }])
    const now = latest.current
    const here = [...allBlocks(now.blocks)].find((b) => b.id === block?.id)
    const kind = film ? "video" : "picture"
    if (here?.kind === kind && "media" in here && here.media === null)
      return change(changeBlock(now, here.id, { media: done.id } as Partial<Block>))
    const made = { ...newBlock(kind, freeId(now)), media: done.id } as Block
    change(insertAfter(now, parts.below, made))
    open(made.id)
  })
  // Sound and captions are files, and play as videos do.
  const playing = useMemo(() => [...videos, ...files.map((f) => ({ type: "", ...f }))], [videos, files])
  const draw = useCallback((p: Page) => drawn(p, pictures, playing), [drawn, pictures, playing])

  const remove = () => {
    parts.remove()
    setSheet(null)
  }
  const pastesIn = useClipboard(frame, { kinds, chosen: parts.chosen, cut: remove, put: parts.put })
  const listenIn = useCallback(
    (doc: Document) => {
      const ends = [dropsIn(doc), pastesIn(doc)]
      return () => {
        for (const end of ends) end()
      }
    },
    [dropsIn, pastesIn],
  )

  const walk = (by: -1 | 1) => {
    const to = by < 0 ? before : after
    if (to) router.push(to.href)
  }
  const pressed = useKeys({
    undo: () => void undo().then(setSaid),
    redo,
    ...parts,
    remove,
    add: () => setAdding(true),
    write: () => parts.last && writeIn(parts.last),
    walk,
    help: () => setKeys(true),
  })
  const goOn = (to: ReturnType<typeof pointBelow>) => {
    if (to) change(to.page, "", true)
    return to?.path ?? null
  }
  const { writeIn } = useInPlace(
    frame,
    { page, draw, turn, chosen: parts.chosen },
    {
      says: (id, path, says) =>
        change(sayInBlock(latest.current, id, path, words ? withoutSources(says) : says), `${id}:${path}`),
      below: (id, path) => goOn(pointBelow(latest.current, id, path)),
      without: (id, path) => goOn(withoutPoint(latest.current, id, path)),
      settle: settleTyping,
      rich: (id, path) => {
        const of = [...allBlocks(latest.current.blocks)].find((b) => b.id === id)
        const html = String(of?.[path as keyof Block] ?? "")
        return words ? fresh(html, words.chips, pictures) : html
      },
      nodes: words ? letterNodes : [],
      writes: setWritten,
      holds: () => holding.current,
      choose(part) {
        choose(part)
        setSheet(null)
      },
      open,
      leave: atEdge,
      add: () => setAdding(true),
      key: (e) => pressed.current(e),
    },
    listenIn,
  )

  const links = useMemo(
    () => [
      ...(of?.funnel.steps ?? [])
        .filter((x) => hasPage(x.kind))
        .map((x) => ({ group: "Page", name: x.name, href: `step:${x.id}` })),
      ...targets,
    ],
    [of, targets],
  )
  /** A new block that shows what the school has, where there is no choice: what this step or its funnel sells, its only teacher or course. */
  const newHere = (kind: BlockKind, id: string): Block => {
    const fresh = newBlock(kind, id)
    const sold = of && [of.step, ...of.funnel.steps].map(offerOf).find((offer) => offer)
    const only = (list: readonly { id: number }[]) => (list.length === 1 ? list[0]!.id : null)
    const known = { offer: sold ?? only(offers), teacher: only(teachers), course: only(courses) }
    const gaps = Object.entries(known).filter(([key]) => key in fresh && fresh[key as keyof Block] === null)
    return { ...fresh, ...Object.fromEntries(gaps) } as Block
  }
  /** What is in the kept section that is chosen; null: none is. */
  const held = (block && "section" in block && sections.find((x) => x.id === block.section)?.blocks) || null
  const canKeep =
    kinds.some((k) => blockKinds[k].isKept) && [...allBlocks(parts.chosen)].every((b) => keptBlocks.includes(b.kind))
  const addable: Addable[] = [
    ...kinds.flatMap((kind) =>
      sections.length && blockKinds[kind].isKept
        ? []
        : { key: kind, name: blockKinds[kind].name, make: (id: string) => newHere(kind, id) },
    ),
    ...sections.map((x) => ({
      key: `kept ${x.id}`,
      name: `Kept: ${x.name}`,
      make: (id: string): Block => ({ id, kind: "kept", section: x.id }),
    })),
  ]
  const add = (chosen: Addable) => {
    const made = chosen.make(freeId(page))
    setAdding(false)
    change(insertAfter(page, parts.below, made))
    choose(made.id)
    setSheet(null)
    writeIn(made.id)
  }

  return (
    <div className="-mx-5 -mt-3 -mb-8 flex h-[calc(100vh-44px)] min-h-96 flex-col">
      <Bar home={home} saved={saved} name={name} note={note} before={before} after={after}>
        <fieldset className="flex gap-1">
          <legend className="sr-only">Width</legend>
          {(Object.keys(widths) as (keyof typeof widths)[]).map((w) => (
            <Button
              key={w}
              aria-pressed={w === shownAt}
              look={w === shownAt ? "primary" : "plain"}
              onClick={() => setShownAt(w)}
            >
              {w}
            </Button>
          ))}
        </fieldset>
        <Button aria-pressed={looksBack} onClick={() => setLooksBack(!looksBack)}>
          Versions
        </Button>
        {also}
        {found && wearAlike ? (
          <Button aria-expanded={sheet === "page"} onClick={() => setSheet(sheet === "page" ? null : "page")}>
            Page
          </Button>
        ) : null}
      </Bar>

      {clash ? (
        <div role="alert" className="flex items-center gap-3 border-b border-amber bg-amber-wash px-5 py-2">
          <p>{clashWords(clash.clash, page, clash.theirs)}</p>
          <Button onClick={() => settle("mine")}>Keep mine</Button>
          <Button onClick={() => settle("theirs")}>Take the other page</Button>
        </div>
      ) : null}
      <div className="relative flex min-h-0 flex-1">
        <Edge
          frame={frame}
          page={page}
          chosen={parts.chosen}
          last={parts.last}
          onChoose={(part, how) => {
            choose(part, how)
            // What can be done with several stands nowhere else.
            setSheet(how === "alone" ? null : "part")
          }}
          onOpen={(part) => (part === block?.id && sheet === "part" ? setSheet(null) : open(part))}
          onMove={parts.moveTo}
          onAdd={() => setAdding(true)}
        />
        <div className="relative flex min-w-0 flex-1 justify-center bg-line/60">
          <iframe
            ref={frame}
            title={`${name}, as it will stand`}
            sandbox="allow-same-origin"
            srcDoc="<!doctype html><html><head></head><body></body></html>"
            className="h-full bg-white"
            style={{ width: `min(100%, ${widths[shownAt] ?? 9999}px)` }}
          />
          <p
            role="status"
            className="absolute bottom-6 rounded-md bg-card px-3 py-1.5 font-semibold shadow-lg empty:hidden"
          >
            {sending}
          </p>
          {written && block ? (
            <RichBar editor={written} frame={frame} block={block.id} links={links} holding={holding} words={words} />
          ) : null}
          {sheet === "part" && parts.last && parts.chosen.length ? (
            <Sheet
              frame={frame}
              of={parts.last}
              title={parts.name}
              focus={block !== null}
              onClose={() => {
                setSheet(null)
                atEdge()
              }}
            >
              {block ? (
                <BlockSettings
                  key={`${block.id}:${turn}`}
                  block={block}
                  of={of}
                  words={words}
                  links={links}
                  pictures={pictures}
                  courses={courses}
                  videos={videos}
                  files={files}
                  onFile={(f) => setFiles([f, ...files])}
                  offers={offers}
                  teachers={teachers}
                  fields={fields}
                  segments={segments}
                  sections={sections}
                  onVideo={(v) => setVideos([v, ...videos])}
                  onPicture={(p) => setPictures([p, ...pictures])}
                  onChange={(c: Partial<Block>, run) => change(changeBlock(page, block.id, c), `${block.id}:${run}`)}
                />
              ) : null}
              <div className={`flex flex-wrap gap-2 ${block ? "mt-4 border-t border-line pt-3" : ""}`}>
                <Button onClick={() => parts.move("up")} title="Alt ↑">
                  Move up
                </Button>
                <Button onClick={() => parts.move("down")} title="Alt ↓">
                  Move down
                </Button>
                <Button onClick={parts.duplicate} title="Ctrl D">
                  Duplicate
                </Button>
                {held ? (
                  <Button onClick={() => parts.replace(held)}>Loosen it here</Button>
                ) : canKeep ? (
                  <Button onClick={() => setKeeping(true)}>Keep for other pages</Button>
                ) : null}
                <Button look="danger" onClick={remove} title="Delete">
                  Remove
                </Button>
              </div>
            </Sheet>
          ) : null}
          {sheet === "page" && found && wearAlike ? (
            <Sheet frame={frame} of={null} title="Page" onClose={() => setSheet(null)}>
              <PageSettings
                wearAlike={wearAlike}
                page={page}
                found={found}
                pictures={pictures}
                onPicture={(p) => setPictures([p, ...pictures])}
                onChange={change}
              />
            </Sheet>
          ) : null}
        </div>
        {looksBack ? (
          <Versions
            whose={whose}
            page={page}
            draw={draw}
            onTake={(p) => change(p, "", true)}
            onClose={() => setLooksBack(false)}
          />
        ) : null}
      </div>
      <FootLine
        page={page}
        draw={draw}
        look={look}
        as={words ? "mail" : found ? "page" : "lesson"}
        onBlock={open}
        onPage={() => setSheet("page")}
      >
        <span role="status" className="font-semibold text-amber-text">
          {others}
        </span>
        <span role="status" className="first-letter:uppercase">
          {said || (cameBack ? "What wasn’t saved the last time came back." : "")}
        </span>
        <FootButton onClick={() => void undo().then(setSaid)} disabled={!canUndo}>
          Undo <kbd className="font-sans">Ctrl Z</kbd>
        </FootButton>
        <FootButton onClick={redo} disabled={!canRedo}>
          Redo <kbd className="font-sans">Ctrl Shift Z</kbd>
        </FootButton>
        <FootButton onClick={() => setKeys(true)}>
          <kbd className="font-sans">?</kbd> keys
        </FootButton>
      </FootLine>
      <AddBlock
        open={adding}
        onOpenChange={setAdding}
        below={parts.chosen.length ? parts.name : null}
        all={addable}
        draw={(made) => draw({ ...page, blocks: [made] })}
        onAdd={add}
      />
      <KeepSection
        blocks={parts.chosen}
        open={keeping}
        onOpenChange={setKeeping}
        onKept={(section) => {
          parts.keep(section)
          setSheet("part")
        }}
      />
      <KeysDialog keys={editorKeys} open={keys} onOpenChange={setKeys} />
    </div>
  )
}

const tabOf = (part: string | null) => document.querySelector<HTMLElement>(`[data-tab="${part}"]`)

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
