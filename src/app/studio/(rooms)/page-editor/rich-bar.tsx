"use client"

import type { Editor } from "@tiptap/core"
import { useEditorState } from "@tiptap/react"
import { Command } from "cmdk"
import { type RefObject, useEffect, useState } from "react"
import type { LinkTarget } from "@/server/page/links"
import { ChipTools } from "@/ui/rich-text"
import type { PageEditorProps } from "./page-editor"
import { useStanding } from "./use-standing"

/** Above the text that is being written: its marks, and what it leads to, found by name. */
export function RichBar({
  editor,
  frame,
  block,
  links,
  holding,
  words,
}: {
  editor: Editor
  frame: RefObject<HTMLIFrameElement | null>
  block: string
  links: readonly LinkTarget[]
  /** The text goes on being written while a link is looked for. */
  holding: { current: boolean }
  words: PageEditorProps["words"]
}) {
  const at = useStanding(frame).get(block)
  const [looking, setLooking] = useState(false)
  const is = useEditorState({
    editor,
    selector: ({ editor: e }) => ({
      bold: e.isActive("bold"),
      italic: e.isActive("italic"),
      list: e.isActive("bulletList"),
      numbers: e.isActive("orderedList"),
      quote: e.isActive("blockquote"),
      link: e.isActive("link") ? String(e.getAttributes("link").href ?? "") : null,
    }),
  })
  useEffect(
    () => () => {
      holding.current = false
    },
    [holding],
  )
  const look = (open: boolean) => {
    holding.current = open
    setLooking(open)
    if (!open) editor.commands.focus()
  }
  const lead = (href: string | null) => {
    const chain = editor.chain().focus().extendMarkRange("link")
    if (href === null) chain.unsetLink().run()
    else if (editor.state.selection.empty && is.link === null)
      chain
        .insertContent({
          type: "text",
          text: links.find((l) => l.href === href)?.name ?? href,
          marks: [{ type: "link", attrs: { href } }],
        })
        .run()
    else chain.setLink({ href }).run()
    look(false)
  }
  const tool = (says: string, active: boolean, run: () => void) => (
    <button
      type="button"
      aria-pressed={active}
      // The caret stays where it is.
      onMouseDown={(e) => e.preventDefault()}
      onClick={run}
      className={`min-h-7 rounded px-2 text-label hover:bg-paper ${active ? "bg-paper font-bold" : ""}`}
    >
      {says}
    </button>
  )
  // It covers nothing of what is written: where there is no room above it, it stands below.
  const below = (at?.top ?? 0) < 64
  const left = (frame.current?.offsetLeft ?? 0) + Math.max(0, at?.left ?? 0)
  return (
    <div
      className={`absolute z-10 rounded-md border border-line bg-card p-1 shadow-lg ${below ? "" : "-translate-y-full"}`}
      style={{
        left,
        top: below ? Math.min(at?.bottom ?? 0, (frame.current?.clientHeight ?? 0) - 60) + 10 : (at?.top ?? 0) - 10,
      }}
    >
      <div role="toolbar" aria-label="Text" className="flex max-w-160 flex-wrap gap-0.5">
        {tool("Bold", is.bold, () => editor.chain().focus().toggleBold().run())}
        {tool("Italic", is.italic, () => editor.chain().focus().toggleItalic().run())}
        {tool("Link", is.link !== null, () => look(!looking))}
        {tool("List", is.list, () => editor.chain().focus().toggleBulletList().run())}
        {tool("Numbered", is.numbers, () => editor.chain().focus().toggleOrderedList().run())}
        {tool("Quote", is.quote, () => editor.chain().focus().toggleBlockquote().run())}
        {words ? (
          // The text goes on being written while a word is looked for.
          <fieldset
            className="contents"
            onPointerDown={() => {
              holding.current = true
            }}
            onBlur={(e) => {
              holding.current = e.currentTarget.contains(e.relatedTarget)
            }}
          >
            <ChipTools editor={editor} chips={words.chips} moment={words.moment} />
          </fieldset>
        ) : null}
      </div>
      {looking ? <Links links={links} now={is.link} onLead={lead} onClose={() => look(false)} /> : null}
    </div>
  )
}

const outside = (typed: string) => {
  const t = typed.trim()
  if (/^(https?:\/\/|mailto:)\S+$/i.test(t)) return t
  if (/^\S+@\S+\.\S+$/.test(t)) return `mailto:${t}`
  return /^[\w-]+(\.[\w-]+)+(\/\S*)?$/.test(t) ? `https://${t}` : null
}

function Links({
  links,
  now,
  onLead,
  onClose,
}: {
  links: readonly LinkTarget[]
  now: string | null
  onLead: (href: string | null) => void
  onClose: () => void
}) {
  const [typed, setTyped] = useState("")
  const away = outside(typed)
  const item = "rounded px-2 py-1.5 data-[selected=true]:bg-paper"
  return (
    <Command
      label="Where the link leads"
      className="mt-1 w-80 border-t border-line pt-1"
      onKeyDown={(e) => {
        if (e.key === "Escape") {
          e.preventDefault()
          e.stopPropagation()
          onClose()
        }
      }}
    >
      <Command.Input
        autoFocus
        value={typed}
        onValueChange={setTyped}
        placeholder="By name, or an address outside"
        className="w-full rounded-md border border-line bg-card px-2 py-1.5"
      />
      <Command.List className="mt-1 max-h-64 overflow-auto">
        {away ? (
          <Command.Item value={typed} forceMount onSelect={() => onLead(away)} className={`${item} truncate`}>
            To {away}
          </Command.Item>
        ) : null}
        {now === null ? null : (
          <Command.Item value="Take the link away" onSelect={() => onLead(null)} className={item}>
            Take the link away
          </Command.Item>
        )}
        {links.map((l) => (
          <Command.Item
            key={l.href}
            value={`${l.name} ${l.href}`}
            onSelect={() => onLead(l.href)}
            className={`${item} flex justify-between gap-3 ${l.href === now ? "font-bold" : ""}`}
          >
            <span className="truncate">{l.name}</span>
            <span className="shrink-0 text-fine text-soft">{l.group}</span>
          </Command.Item>
        ))}
        <Command.Empty className="px-2 py-1.5 text-soft">Nothing is called that.</Command.Empty>
      </Command.List>
    </Command>
  )
}
