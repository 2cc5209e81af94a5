"use client"

import { useCallback, useEffect, useRef } from "react"
import { copied, copiedText, copiedType, readCopied } from "@/core/page/copied"
import type { Block, BlockKind } from "@/core/page/document"
import { blocksFromHtml, blocksFromText } from "@/core/page/pasted"

export type Clipboard = {
  readonly kinds: readonly BlockKind[]
  /** The parts that are copied. */
  readonly chosen: readonly Block[]
  cut(): void
  /** Puts blocks below the chosen parts; `left`: what didn't come along, in words. */
  put(blocks: readonly Block[], left: readonly string[]): void
}

/**
 * Copy, cut and paste of parts, between pages, lessons and windows, and of what other programs have on the clipboard. Where something is being
 * written, or letters are chosen, they are what is copied. Gives how to listen in a document that stands in a frame.
 */
export function useClipboard(
  frame: { readonly current: HTMLIFrameElement | null },
  of: Clipboard,
): (doc: Document) => () => void {
  const latest = useRef(of)
  latest.current = of
  const listenIn = useCallback(
    (doc: Document) => {
      const writes = (e: Event) =>
        (e.target as Element | null)?.closest?.("input, textarea, select, [contenteditable], [role=dialog]") ||
        doc.getSelection()?.isCollapsed === false
      const copy = (e: ClipboardEvent) => {
        const { chosen } = latest.current
        if (!chosen.length || !e.clipboardData || writes(e)) return
        e.preventDefault()
        e.clipboardData.setData(copiedType, copied(chosen, window.location.host))
        e.clipboardData.setData("text/plain", copiedText(chosen))
        const drawn = chosen.map((b) => drawnIn(frame.current?.contentDocument, b.id))
        e.clipboardData.setData("text/html", drawn.join(""))
        if (e.type === "cut") latest.current.cut()
      }
      const paste = (e: ClipboardEvent) => {
        if (e.defaultPrevented || !e.clipboardData || writes(e)) return
        const { kinds, put } = latest.current
        const ours = readCopied(e.clipboardData.getData(copiedType), { school: window.location.host, kinds })
        const html = e.clipboardData.getData("text/html")
        const found =
          ours?.blocks ?? (html ? blocksFromHtml(html) : blocksFromText(e.clipboardData.getData("text/plain")))
        if (!found.length && !ours) return
        e.preventDefault()
        put(found, ours?.left ?? [])
      }
      doc.addEventListener("copy", copy)
      doc.addEventListener("cut", copy)
      doc.addEventListener("paste", paste)
      return () => {
        doc.removeEventListener("copy", copy)
        doc.removeEventListener("cut", copy)
        doc.removeEventListener("paste", paste)
      }
    },
    [frame],
  )
  useEffect(() => listenIn(document), [listenIn])
  return listenIn
}

/** A part as it stands in the frame, without the editor's own marks. */
function drawnIn(doc: Document | null | undefined, block: string): string {
  const part = doc?.querySelector(`[data-block="${block}"]`)?.cloneNode(true) as Element | undefined
  if (!part) return ""
  for (const e of [part, ...part.querySelectorAll("*")])
    for (const { name } of [...e.attributes])
      if (/^data-|^contenteditable$|^tabindex$/.test(name)) e.removeAttribute(name)
  return part.outerHTML
}
