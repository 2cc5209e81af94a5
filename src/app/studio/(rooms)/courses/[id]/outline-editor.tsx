"use client"

import {
  DndContext,
  type DragEndEvent,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core"
import { useRouter } from "next/navigation"
import {
  type KeyboardEvent,
  memo,
  startTransition,
  useCallback,
  useEffect,
  useId,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from "react"
import * as edit from "@/core/course/outline"
import { newRow, type Outline, type OutlineRow } from "@/core/course/outline"
import { readPasted } from "@/core/course/paste"
import { Button } from "@/ui/button"
import { KeysDialog } from "@/ui/keys-dialog"
import { Link } from "@/ui/link"
import { saveWords, useSaved } from "@/ui/use-saved"
import { saveOutlineAction } from "../actions"

const keys = [
  ["Enter", "a new lesson below"],
  ["Tab", "make a lesson of a module"],
  ["Shift Tab", "make a module of a lesson that has nothing in it yet"],
  ["↑ ↓", "go to the row above or below"],
  ["Shift ↑ ↓", "select on the way"],
  ["Alt ↑ ↓", "move it, or all that are selected"],
  ["Ctrl D", "duplicate"],
  ["Ctrl Enter", "open the lesson"],
  ["Backspace", "in an empty row: remove it"],
  ["Ctrl Z", "undo; with Shift: redo"],
] as const

let made = 0
const fresh = () => `new:${Date.now()}:${++made}`

/** What has been done to the outline, so that it can be taken back. */
type Past = { readonly before: readonly Outline[]; readonly after: readonly Outline[] }
const nothing: Past = { before: [], after: [] }

const focusRow = (list: HTMLElement | null, key: string) =>
  list?.querySelector<HTMLInputElement>(`[data-row="${CSS.escape(key)}"]`)?.focus()

const numberOf = (r: OutlineRow) => (r.id === null ? null : `${r.kind}:${r.id}`)

/** The course as a list that is written: every row an input, saved as typed. */
export function OutlineEditor({
  course,
  rows: given,
  length,
  open,
}: {
  course: number
  rows: Outline
  length: { readonly minutes: number; readonly videos: number; readonly files: number }
  /** The lesson that is open beside it. */
  open: number | null
}) {
  const [rows, setRows] = useState<Outline>(() => (given.length ? given : [newRow("first", "lesson")]))
  const [past, setPast] = useState(nothing)
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set())
  const [help, setHelp] = useState(false)
  /** The outline as it is, also where it is still to be drawn: a letter doesn't wait for five hundred rows. */
  const now = useRef(rows)
  const put = useCallback((next: Outline) => {
    now.current = next
    setRows(next)
  }, [])
  const pastNow = useRef(past)
  pastNow.current = past
  /** The number of each row that has been stored, by its key. */
  const stored = useRef(new Map<string, number>())
  const known = useRef(new Set(given.flatMap((r) => numberOf(r) ?? [])))
  /** The outline as the server last said it. */
  const heard = useRef(given)
  const lastTyped = useRef("")
  const focusNext = useRef<string | null>(null)
  const router = useRouter()
  const list = useRef<HTMLOListElement>(null)

  /** The outline with what the server has by now; what could be undone has it, too, so that undoing brings nothing else back. */
  const takeIn = useCallback((theirs: Outline): Outline => {
    const before = heard.current
    const into = (all: readonly Outline[]) => all.map((x) => edit.takeIn(x, before, theirs))
    const next = edit.takeIn(now.current, before, theirs)
    if (next !== now.current) setPast((p) => ({ before: into(p.before), after: into(p.after) }))
    return next
  }, [])

  const saved = useSaved(rows, async (sending) => {
    const done = await saveOutlineAction({
      course,
      rows: sending.filter((r) => r.id !== null || r.title.trim()),
      known: [...known.current],
      heard: heard.current.flatMap((r) => (r.kind === "lesson" && r.id !== null ? [{ ...r, id: r.id }] : [])),
    })
    if ("refused" in done) return done
    known.current = new Set(done.rows.flatMap((r) => numberOf(r) ?? []))
    const ids = new Map(done.rows.map((r) => [r.key, r.id]))
    for (const r of done.rows) if (r.id !== null) stored.current.set(r.key, r.id)
    const here = new Set(sending.map((r) => r.key))
    // Numbers come in by key; rows of another window come in at the end. The same list stays where neither does: another
    // one would be saved again, and so on without an end.
    const all = takeIn(done.rows)
    heard.current = done.rows
    const numbered = all.map((r) => (r.id === null && ids.get(r.key) ? { ...r, id: ids.get(r.key) as number } : r))
    const theirs = done.rows.filter((r) => !here.has(r.key) && !all.some((x) => x.key === r.key))
    if (theirs.length || numbered.some((r, i) => r !== now.current[i])) put([...numbered, ...theirs])
    router.refresh()
    return null
  })

  // What was changed beside the outline, such as a lesson put live, comes in with the page that is made anew for it.
  useEffect(() => {
    const next = takeIn(given)
    const later = new Map(given.map((r) => [numberOf(r), r]))
    heard.current = heard.current.map((r) => {
      const is = later.get(numberOf(r))
      return is && is.revision > r.revision ? is : r
    })
    if (next !== now.current) put(next)
  }, [given, put, takeIn])

  /** A change that can be taken back; typing in one row is one change. */
  const act = useCallback(
    (next: Outline, run = "") => {
      if (next === now.current) return
      const before = now.current
      if (run === "" || run !== lastTyped.current)
        setPast((p) => ({ before: [...p.before.slice(-99), before], after: [] }))
      lastTyped.current = run
      put(next)
    },
    [put],
  )

  const undo = useCallback(
    (way: "before" | "after") => {
      const { before, after } = pastNow.current
      const to = (way === "before" ? before : after).at(-1)
      if (!to) return
      const current = now.current
      // What has been stored since keeps its number, also where it was taken out meanwhile.
      put(to.map((r) => (r.id === null ? { ...r, id: stored.current.get(r.key) ?? null } : r)))
      lastTyped.current = ""
      setPast(
        way === "before"
          ? { before: before.slice(0, -1), after: [...after, current] }
          : { before: [...before, current], after: after.slice(0, -1) },
      )
    },
    [put],
  )

  // A row that an edit wants to go on in. In the drawing itself: an effect of the drawing before, which still waits, would look for
  // a row that isn't there yet, and what is typed next would go nowhere.
  useLayoutEffect(() => {
    const key = focusNext.current
    if (key === null) return
    focusNext.current = null
    focusRow(list.current, key)
  })
  const go = useCallback((key: string | undefined) => {
    if (key !== undefined) focusNext.current = key
  }, [])

  const onKey = useCallback(
    (e: KeyboardEvent<HTMLInputElement>, key: string) => {
      const all = now.current
      const at = all.findIndex((r) => r.key === key)
      const row = all[at]
      if (!row) return
      const chosen = selected.has(key) ? selected : new Set([key])
      const ctrl = e.ctrlKey || e.metaKey
      const done = () => e.preventDefault()
      if (e.key === "Enter" && ctrl) {
        done()
        if (row.kind === "lesson" && row.id !== null) router.push(`/studio/courses/${course}?lesson=${row.id}`)
      } else if (e.key === "Enter") {
        done()
        const added = newRow(fresh(), "lesson")
        go(added.key)
        act(edit.insertRowAfter(all, key, [added]))
      } else if (e.key === "Tab") {
        const next = edit.turn(all, chosen, e.shiftKey ? "out" : "in", fresh)
        if (next.every((r, i) => r === all[i])) return
        done()
        go(next[at]!.key)
        act(next)
      } else if (e.key === "ArrowUp" || e.key === "ArrowDown") {
        done()
        const way = e.key === "ArrowUp" ? "up" : "down"
        if (e.altKey) {
          go(key)
          act(edit.moveBy(all, chosen, way))
          return
        }
        const to = all[at + (way === "up" ? -1 : 1)]
        if (e.shiftKey) setSelected((s) => new Set([...s, key, ...(to ? [to.key] : [])]))
        if (to) focusRow(list.current, to.key)
      } else if (e.key === "Backspace" && row.title === "" && edit.isBare(row)) {
        done()
        go((all[at - 1] ?? all[at + 1])?.key)
        act(edit.remove(all, new Set([key])))
      } else if (ctrl && e.key.toLowerCase() === "d") {
        done()
        act(edit.duplicate(all, chosen, fresh))
      } else if (ctrl && e.key.toLowerCase() === "z") {
        done()
        undo(e.shiftKey ? "after" : "before")
      }
    },
    [act, undo, selected, course, router, go],
  )

  const onTyped = useCallback(
    (key: string, title: string) => {
      const next = edit.setTitle(now.current, key, title)
      startTransition(() => act(next, key))
    },
    [act],
  )
  const titleOf = useCallback((key: string) => now.current.find((r) => r.key === key)?.title ?? "", [])
  const onPasted = useCallback(
    (key: string, text: string) => {
      const pasted = readPasted(text).map((p) => newRow(fresh(), p.kind, p.title))
      if (!pasted.length) return
      const row = now.current.find((r) => r.key === key)
      const rest = edit.insertRowAfter(now.current, key, pasted)
      act(row && !row.title && edit.isBare(row) ? edit.remove(rest, new Set([key])) : rest)
    },
    [act],
  )
  const onSelected = useCallback((key: string, on: boolean, far: boolean) => {
    setSelected((s) => {
      const next = new Set(s)
      const all = now.current.map((r) => r.key)
      const last = [...s].at(-1)
      const [a, b] = [all.indexOf(key), far && last ? all.indexOf(last) : all.indexOf(key)].sort((x, y) => x - y)
      for (const k of all.slice(a, (b ?? 0) + 1)) on ? next.add(k) : next.delete(k)
      return next
    })
  }, [])

  const sensors = useSensors(useSensor(PointerSensor, byDistance))
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over) return
    const key = String(active.id)
    const moved = selected.has(key) ? selected : new Set(edit.withLessons(now.current, key))
    const to = String(over.id)
    act(edit.moveBefore(now.current, moved, to === "end" ? null : to))
  }

  const counts = edit.outlineCounts(rows)
  const emptyLive = rows.filter((r) => r.live && edit.isEmpty(r))
  const some = (c: edit.RowChange) => act(edit.changeRow(now.current, selected, c))
  // Drawn anew where rows or marks change, and not for the word that says how far the saving is.
  const drawn = useMemo(() => {
    let n = 0
    return (
      <ol ref={list} className="mt-2 border-b border-line">
        {rows.map((r) => (
          <Row
            key={r.key}
            row={r}
            number={r.kind === "lesson" ? ++n : 0}
            course={course}
            open={r.kind === "lesson" && r.id !== null && r.id === open}
            selected={selected.has(r.key)}
            onKey={onKey}
            onTyped={onTyped}
            titleOf={titleOf}
            onPasted={onPasted}
            onSelected={onSelected}
          />
        ))}
        <End />
      </ol>
    )
  }, [rows, selected, open, course, onKey, onTyped, titleOf, onPasted, onSelected])
  return (
    <section aria-label="Lessons" className="min-w-0">
      <p className="flex flex-wrap items-baseline gap-x-3 text-note text-soft">
        <span>
          {counts.modules ? `${counts.modules} ${counts.modules === 1 ? "module" : "modules"}, ` : ""}
          {counts.live} of {counts.lessons} {counts.lessons === 1 ? "lesson" : "lessons"} live
          {length.minutes ? `, ${minutesWords(length.minutes)}` : ""}
          {length.files ? `, ${length.files} ${length.files === 1 ? "file" : "files"}` : ""}
        </span>
        <span role="status" className={`ml-auto ${typeof saved === "object" ? "font-semibold text-dusk" : ""}`}>
          {saveWords(saved)}
        </span>
      </p>
      {selected.size ? (
        <div className="sticky top-0 z-10 my-2 flex flex-wrap items-center gap-1 rounded-md border border-line bg-paper p-1.5 text-note">
          <span className="px-1.5 font-semibold">{selected.size} selected</span>
          <Button className="min-h-8" onClick={() => some({ live: true })}>
            Put live
          </Button>
          <Button className="min-h-8" onClick={() => some({ live: false })}>
            Back to draft
          </Button>
          <Button className="min-h-8" onClick={() => some({ free: !all(rows, selected, "free") })}>
            {all(rows, selected, "free") ? "No free preview" : "Free preview"}
          </Button>
          <Button className="min-h-8" onClick={() => some({ required: !all(rows, selected, "required") })}>
            {all(rows, selected, "required") ? "Optional" : "Required"}
          </Button>
          <Button className="min-h-8" onClick={() => act(edit.duplicate(rows, selected, fresh))}>
            Duplicate
          </Button>
          <Button
            look="danger"
            className="min-h-8"
            onClick={() => {
              act(edit.remove(rows, selected))
              setSelected(new Set())
            }}
          >
            Remove
          </Button>
          <Button look="quiet" className="ml-auto min-h-8" onClick={() => setSelected(new Set())}>
            Select none
          </Button>
        </div>
      ) : null}
      {emptyLive.length ? (
        <p role="status" className="my-2 rounded-md border border-amber bg-card px-3 py-2 text-note">
          {emptyLive.length === 1
            ? `“${emptyLive[0]!.title}” is live with nothing in it: learners open an empty page.`
            : `${emptyLive.length} lessons are live with nothing in them: learners open empty pages.`}{" "}
          <button
            type="button"
            className="text-slate underline"
            onClick={() => act(edit.changeRow(now.current, new Set(emptyLive.map((r) => r.key)), { live: false }))}
          >
            Back to draft
          </button>
        </p>
      ) : null}
      <DndContext sensors={sensors} onDragEnd={onDragEnd} id={useId()}>
        {drawn}
      </DndContext>
      <p className="mt-2 flex flex-wrap gap-2">
        <Button
          onClick={() => {
            const added = newRow(fresh(), "lesson")
            go(added.key)
            act(edit.insertRowAfter(rows, rows.at(-1)?.key ?? null, [added]))
          }}
        >
          Add a lesson
        </Button>
        <Button
          onClick={() => {
            const added = newRow(fresh(), "module")
            go(added.key)
            act(edit.insertRowAfter(rows, rows.at(-1)?.key ?? null, [added]))
          }}
        >
          Add a module
        </Button>
        <Button disabled={!past.before.length} onClick={() => undo("before")}>
          Undo
        </Button>
        <Button look="quiet" onClick={() => setHelp(true)}>
          Keys
        </Button>
      </p>
      <p className="mt-1 text-fine text-soft">
        Paste a list or Markdown into a row, and it becomes modules and lessons.
      </p>
      <KeysDialog keys={keys} open={help} onOpenChange={setHelp} />
    </section>
  )
}

/** One object for good: a new one at each key would draw every row anew. */
const byDistance = { activationConstraint: { distance: 5 } }

const all = (rows: Outline, selected: ReadonlySet<string>, mark: "free" | "required") =>
  rows.every((r) => !selected.has(r.key) || r.kind === "module" || r[mark])

const minutesWords = (m: number) =>
  m < 60 ? `${m} min` : `${Math.floor(m / 60)} h ${m % 60 ? `${m % 60} min` : ""}`.trim()

const Row = memo(function Row({
  row: r,
  number,
  course,
  open,
  selected,
  onKey,
  onTyped,
  titleOf,
  onPasted,
  onSelected,
}: {
  row: OutlineRow
  number: number
  course: number
  open: boolean
  selected: boolean
  onKey: (e: KeyboardEvent<HTMLInputElement>, key: string) => void
  onTyped: (key: string, title: string) => void
  /** The title as it is, also where the row is still to be drawn. */
  titleOf: (key: string) => string
  onPasted: (key: string, text: string) => void
  onSelected: (key: string, on: boolean, far: boolean) => void
}) {
  // A letter stands in its own row at once; the outline follows.
  const [title, setTitle] = useState(r.title)
  // biome-ignore lint/correctness/useExhaustiveDependencies: what comes in from elsewhere, such as undo, comes with the row
  useEffect(() => setTitle(titleOf(r.key)), [r.title, r.key, titleOf])
  const drag = useDraggable({ id: r.key })
  const drop = useDroppable({ id: r.key })
  const module = r.kind === "module"
  const name = r.title || (module ? "a module without a title" : "a lesson without a title")
  return (
    <li
      ref={drop.setNodeRef}
      className={`group flex items-center gap-1 border-t [contain-intrinsic-size:auto_2.4rem] [content-visibility:auto] ${drop.isOver ? "border-slate shadow-[0_-1px_0_var(--color-slate)]" : "border-line"} ${module ? "pt-1.5" : ""} ${open ? "bg-card" : ""} ${drag.isDragging ? "opacity-50" : ""}`}
    >
      <input
        type="checkbox"
        aria-label={`Select ${name}`}
        checked={selected}
        className={`ml-1 accent-slate ${selected ? "" : "opacity-40 group-focus-within:opacity-100 group-hover:opacity-100"}`}
        onChange={() => {}}
        onClick={(e) => onSelected(r.key, !selected, e.shiftKey)}
      />
      <button
        type="button"
        ref={drag.setNodeRef}
        {...drag.attributes}
        {...drag.listeners}
        tabIndex={-1}
        aria-label={`Drag ${name}`}
        className="min-h-8 min-w-6 cursor-grab touch-none text-soft"
      >
        ⠿
      </button>
      <span className={`w-6 text-right text-fine text-soft ${module ? "hidden" : ""}`}>{number}</span>
      <input
        data-row={r.key}
        aria-label={module ? "Module" : `Lesson ${number}`}
        placeholder={module ? "Title of the module" : "Title of the lesson"}
        value={title}
        maxLength={160}
        onChange={(e) => {
          setTitle(e.target.value)
          onTyped(r.key, e.target.value)
        }}
        onKeyDown={(e) => onKey(e, r.key)}
        onPaste={(e) => {
          const text = e.clipboardData.getData("text/plain")
          if (!text.trim().includes("\n")) return
          e.preventDefault()
          onPasted(r.key, text)
        }}
        className={`min-h-9 min-w-0 flex-1 text-ellipsis rounded bg-transparent px-1.5 py-1 focus:bg-card ${module ? "font-bold" : ""}`}
      />
      {module ? null : (
        <>
          <span className="flex gap-1.5 text-fine whitespace-nowrap text-soft">
            {r.free ? <span className="text-amber-text">Free</span> : null}
            {r.required ? null : <span>Optional</span>}
            {edit.isEmpty(r) ? <span className={r.live ? "font-semibold text-amber-text" : ""}>Empty</span> : null}
            {r.live ? null : <span>Draft</span>}
          </span>
          {r.id === null ? (
            <span className="w-14" />
          ) : (
            <Link
              href={`/studio/courses/${course}?lesson=${r.id}`}
              scroll={false}
              aria-current={open ? "true" : undefined}
              className={`w-14 py-1.5 text-center text-label ${open ? "font-semibold text-ink" : "text-slate hover:underline"}`}
            >
              Open<span className="sr-only"> {name}</span>
            </Link>
          )}
        </>
      )}
    </li>
  )
})

function End() {
  const drop = useDroppable({ id: "end" })
  return (
    <li ref={drop.setNodeRef} aria-hidden className={`h-3 border-t ${drop.isOver ? "border-slate" : "border-line"}`} />
  )
}
