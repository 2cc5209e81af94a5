"use client"

import { Editor, type Extensions } from "@tiptap/core"
import StarterKit from "@tiptap/starter-kit"
import { useCallback, useEffect, useRef } from "react"
import type { Block, Page } from "@/core/page/document"
import { isOurLink } from "@/core/page/linked"

/** What only the editor's frame shows: which part is chosen, and where something can be written. */
const frameCss =
  "[data-block]{cursor:pointer}[data-here]{outline:2px solid #d97b16!important;outline-offset:6px;border-radius:4px}[data-says],[data-rich]{cursor:text}[data-says]:focus,[data-rich]:focus,[data-rich] :focus{outline:1px dashed #d97b16;outline-offset:3px}[data-says]:empty::before{content:'Write here';opacity:.45}.ProseMirror{white-space:pre-wrap}[data-word]{border-bottom:1px dotted}"

export type InPlace = {
  /** Writes a text of a block: `rich` as HTML. */
  says(block: string, path: string, says: string): void
  /** Enter at the end of a point, Backspace in an empty one: gives where it is written on; null: it is no point of a list. */
  below(block: string, path: string): string | null
  without(block: string, path: string): string | null
  /** What was being written is written. */
  settle(): void
  choose(block: string): void
  /** A rich text as it is kept, whose links lead to what they name. */
  rich(block: string, path: string): string
  /** What it can hold besides words. */
  readonly nodes: Extensions
  /** The rich text that is being written; null: none is. */
  writes(editor: Editor | null): void
  /** Whether it goes on being written while something else has the keys. */
  holds(): boolean
  /** A part was pressed where it says nothing. */
  open(block: string): void
  /** Escape: writing is over. */
  leave(): void
  /** What can be added below is wanted: "/" at an empty line. */
  add(): void
  /** A key that was pressed in the frame, and isn't typing. */
  key(e: KeyboardEvent): void
}

/**
 * The page in its frame, which runs no scripts: what stands in it is written where it stands. `draw` gives the whole document, anew with
 * each `turn`, `chosen` the parts that are outlined. A text that is being written keeps its caret. Gives how to begin writing in a part, also in
 * one that is drawn next; one that says nothing is opened.
 */
export function useInPlace(
  frame: { readonly current: HTMLIFrameElement | null },
  {
    page,
    draw: drawn,
    turn,
    chosen,
  }: {
    readonly page: Page
    readonly draw: (page: Page) => string
    readonly turn: number
    readonly chosen: readonly Block[]
  },
  acts: InPlace,
  listenIn: (doc: Document) => () => void,
): { readonly writeIn: (block: string) => void } {
  const latest = useRef(acts)
  latest.current = acts
  const rich = useRef<{ readonly editor: Editor; readonly of: string } | null>(null)
  const typed = useRef(false)
  const next = useRef<Caret | null>(null)
  const wanted = useRef<string | null>(null)
  const pressedIn = useRef<string | null>(null)

  const listen = useCallback((doc: Document) => {
    const write = (mark: string, says: string) => {
      typed.current = true
      const [block, path] = mark.split(" ") as [string, string]
      latest.current.says(block, path, says)
    }
    const endRich = () => {
      rich.current?.editor.destroy()
      rich.current = null
      typed.current = false
      latest.current.writes(null)
    }
    const input = (e: Event) => {
      const mark = (e.target as Element).closest("[data-says]")?.getAttribute("data-says")
      const says = (e.target as Element).textContent ?? ""
      if (mark) write(mark, says.replace(/[\s\u00a0]+/g, " "))
    }
    const focus = (e: FocusEvent) => {
      const here = e.target as HTMLElement
      const block = here.closest("[data-block]")?.getAttribute("data-block") ?? markOf(here)?.split(" ")[0]
      if (block) latest.current.choose(block)
      const mark = here.getAttribute("data-rich")
      if (rich.current && !rich.current.editor.view.dom.contains(here)) {
        endRich()
        latest.current.settle()
      }
      if (!mark || rich.current?.of === mark) return
      const [of, path] = mark.split(" ") as [string, string]
      here.replaceChildren()
      const editor = new Editor({
        element: { mount: here },
        injectCSS: false,
        content: latest.current.rich(of, path),
        extensions: [
          StarterKit.configure({
            heading: { levels: [2, 3] },
            link: {
              openOnClick: false,
              isAllowedUri: (href, { defaultValidate }) => isOurLink(href) || defaultValidate(href),
            },
          }),
          ...latest.current.nodes,
        ],
        onUpdate: ({ editor }) => write(mark, editor.getHTML()),
      })
      rich.current = { editor, of: mark }
      latest.current.writes(editor)
      editor.commands.focus(pressed ? (editor.view.posAtCoords(pressed)?.pos ?? "end") : "start")
    }
    const blur = (e: FocusEvent) => {
      if (latest.current.holds()) return
      // What is drawn next stands in place of what was pressed: writing goes on there.
      const to = (e.relatedTarget as Element | null)?.closest("[data-says], [data-rich]")
      pressedIn.current = (to && markOf(to)) ?? null
      if (rich.current && !rich.current.editor.view.dom.contains(e.relatedTarget as Node | null)) {
        endRich()
        // Its element is empty now: it is drawn again, also where nothing was typed.
      } else if (!typed.current) return
      typed.current = false
      latest.current.settle()
    }
    let pressed: { left: number; top: number } | null = null
    const press = (e: MouseEvent) => {
      pressed = { left: e.clientX, top: e.clientY }
    }
    const key = (e: KeyboardEvent) => {
      pressed = null
      const line = (e.target as Element).closest("[data-says]")
      const empty = e.key === "Backspace" && line?.textContent === ""
      if (line && (e.key === "Enter" || empty)) {
        const [block, path] = line.getAttribute("data-says")!.split(" ") as [string, string]
        const on = latest.current[empty ? "without" : "below"](block, path)
        if (on !== null) {
          e.preventDefault()
          typed.current = false
          next.current = { mark: `${block} ${on}`, at: Number.POSITIVE_INFINITY }
          return
        }
      }
      if (e.key === "Escape" || (line && e.key === "Enter")) {
        e.preventDefault()
        ;(e.target as HTMLElement).blur()
        latest.current.leave()
        return
      }
      const bare = rich.current
        ? rich.current.editor.state.selection.$from.parent.content.size === 0
        : line?.textContent === ""
      if (e.key === "/" && bare) {
        e.preventDefault()
        ;(e.target as HTMLElement).blur()
        latest.current.add()
        return
      }
      // What is undone is drawn, also into the text that is being written.
      if (e.ctrlKey || e.metaKey) typed.current &&= e.key.toLowerCase() !== "z"
      latest.current.key(e)
    }
    const click = (e: Event) => {
      e.preventDefault()
      const part = (e.target as Element).closest("[data-block]")
      const block = part?.getAttribute("data-block")
      const written = doc.activeElement?.closest("[data-says], .ProseMirror")
      if (block) latest.current[written && part?.contains(written) ? "choose" : "open"](block)
    }
    const all = { input, focusin: focus, focusout: blur, mousedown: press, keydown: key, click } as const
    for (const [name, act] of Object.entries(all)) doc.addEventListener(name, act as EventListener)
    return () => {
      for (const [name, act] of Object.entries(all)) doc.removeEventListener(name, act as EventListener)
    }
  }, [])

  const draw = useCallback((doc: Document, html: string) => {
    const [scroll, at] = [doc.scrollingElement?.scrollTop ?? 0, caretOf(doc)]
    const parsed = new DOMParser().parseFromString(html, "text/html")
    doc.documentElement.replaceChildren(...parsed.documentElement.childNodes)
    const style = doc.createElement("style")
    style.textContent = frameCss
    doc.head.append(style)
    for (const e of doc.querySelectorAll<HTMLElement>("[data-says]")) inPlaceOf(e).contentEditable = "plaintext-only"
    for (const e of doc.querySelectorAll<HTMLElement>("[data-rich]")) e.tabIndex = 0
    if (doc.scrollingElement) doc.scrollingElement.scrollTop = scroll
    const caret = next.current ?? at
    next.current = null
    if (caret) putCaret(doc, caret)
    const mark = pressedIn.current
    pressedIn.current = null
    if (mark) {
      doc.querySelector<HTMLElement>(`[data-says="${mark}"], [data-rich="${mark}"]`)?.focus({ preventScroll: true })
      // The browser has put the caret into what was pressed, and is no longer there.
      doc.addEventListener("mouseup", (e) => caretAt(doc, e), { once: true })
    }
    const block = wanted.current
    wanted.current = null
    if (block && !beginIn(doc, block)) latest.current.open(block)
  }, [])

  const stands = useRef({ page, drawn, chosen })
  stands.current = { page, drawn, chosen }
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was undone is drawn, also where the page is the same again
  useEffect(() => {
    const doc = frame.current?.contentDocument
    if (doc?.readyState !== "complete" || typed.current || rich.current) return
    draw(doc, drawn(page))
    outline(doc, stands.current.chosen)
  }, [frame, draw, page, drawn, turn])
  useEffect(() => {
    const doc = frame.current?.contentDocument
    if (doc) outline(doc, chosen)?.scrollIntoView({ block: "center" })
  }, [frame, chosen])
  useEffect(() => {
    const f = frame.current
    if (!f) return
    let ends: (() => void)[] = []
    const begin = () => {
      for (const end of ends) end()
      const doc = f.contentDocument
      if (!doc) return
      ends = [listen(doc), listenIn(doc)]
      draw(doc, stands.current.drawn(stands.current.page))
      outline(doc, stands.current.chosen)
    }
    if (f.contentDocument?.readyState === "complete") begin()
    f.addEventListener("load", begin)
    return () => {
      f.removeEventListener("load", begin)
      for (const end of ends) end()
      rich.current?.editor.destroy()
    }
  }, [frame, draw, listen, listenIn])
  return {
    writeIn(block) {
      const doc = frame.current?.contentDocument
      if (!doc?.querySelector(`[data-block="${block}"]`)) wanted.current = block
      else if (!beginIn(doc, block)) latest.current.open(block)
    },
  }
}

/** Puts the caret into the first text of a part, all of it chosen; false: it has none. */
function beginIn(doc: Document, block: string): boolean {
  const part = doc.querySelector(`[data-block="${block}"]`)
  const text = "[data-says], [data-rich]"
  const first = part?.matches(text) ? part : part?.querySelector(text)
  if (!first) return false
  ;(first as HTMLElement).focus({ preventScroll: true })
  doc.getSelection()?.selectAllChildren(first.querySelector(".ProseMirror") ?? first)
  return true
}

/** Outlines parts, and opens what holds them back; gives the last where it is out of view. */
function outline(doc: Document, blocks: readonly Block[]): Element | undefined {
  for (const e of doc.querySelectorAll("[data-here]")) e.removeAttribute("data-here")
  const here = blocks.flatMap((b) => [...doc.querySelectorAll(`[data-block="${b.id}"]`)])
  for (const e of here) e.setAttribute("data-here", "")
  for (const e of doc.querySelectorAll("details")) e.open = here.some((x) => e.contains(x))
  const box = here.at(-1)?.getBoundingClientRect()
  return box && (box.bottom < 0 || box.top > (doc.defaultView?.innerHeight ?? 0)) ? here.at(-1) : undefined
}

const markOf = (e: Element) => e.getAttribute("data-says") ?? e.getAttribute("data-rich")

/** Where the text of an element is written: what typing would press or open gets a place for it inside. */
function inPlaceOf(e: HTMLElement): HTMLElement {
  if (e.localName !== "button" && e.localName !== "summary") return e
  const span = e.ownerDocument.createElement("span")
  span.append(...e.childNodes)
  span.setAttribute("data-says", e.getAttribute("data-says")!)
  e.removeAttribute("data-says")
  e.append(span)
  return span
}

type Caret = { readonly mark: string; readonly at: number }

/** The text that is being written, and how many letters stand before the caret. */
function caretOf(doc: Document): Caret | null {
  const mark = doc.activeElement?.getAttribute("data-says")
  const selection = doc.getSelection()
  if (!mark || !selection?.rangeCount) return null
  const range = selection.getRangeAt(0).cloneRange()
  range.setStart(doc.activeElement!, 0)
  return { mark, at: range.toString().length }
}

function caretAt(doc: Document, { clientX, clientY }: MouseEvent): void {
  const at = doc.caretPositionFromPoint(clientX, clientY)
  if (at) doc.getSelection()?.collapse(at.offsetNode, at.offset)
}

function putCaret(doc: Document, { mark, at }: Caret): void {
  const e = doc.querySelector<HTMLElement>(`[data-says="${mark}"]`)
  if (!e) return
  e.focus({ preventScroll: true })
  const text = e.firstChild
  if (text) doc.getSelection()?.collapse(text, Math.min(at, text.textContent?.length ?? 0))
}
