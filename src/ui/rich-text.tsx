"use client"

import { Mark, mergeAttributes } from "@tiptap/core"
import { EditorContent, useEditor } from "@tiptap/react"
import StarterKit from "@tiptap/starter-kit"
import { useId, useState } from "react"

/** A personal word: reads as what will stand there, and carries the words for those of whom it isn't known. */
const Chip = Mark.create({
  name: "chip",
  inclusive: false,
  addAttributes() {
    return {
      word: { parseHTML: (e) => e.getAttribute("data-word"), renderHTML: (a) => ({ "data-word": a.word }) },
      otherwise: { parseHTML: (e) => e.getAttribute("data-else"), renderHTML: (a) => ({ "data-else": a.otherwise }) },
    }
  },
  parseHTML: () => [{ tag: "span[data-word]" }],
  renderHTML: ({ HTMLAttributes }) => ["span", mergeAttributes(HTMLAttributes), 0],
})

export type Chip = { readonly word: string; readonly label: string; readonly otherwise: string }

/** Rich text as HTML. `chips` are the personal words that can be put in. */
export function RichText({
  label,
  value,
  onChange,
  chips = [],
}: {
  label: string
  value: string
  onChange: (html: string) => void
  chips?: readonly Chip[]
}) {
  const id = useId()
  const [linking, setLinking] = useState<string | null>(null)
  const editor = useEditor({
    immediatelyRender: false,
    extensions: [
      StarterKit.configure({
        heading: { levels: [2, 3] },
        link: { openOnClick: false, protocols: ["http", "https", "mailto"] },
      }),
      Chip,
    ],
    content: value,
    editorProps: {
      attributes: {
        role: "textbox",
        "aria-multiline": "true",
        "aria-labelledby": `${id}-label`,
        class: "tiptap prose-heron",
      },
    },
    onUpdate: ({ editor }) => onChange(editor.getHTML()),
  })
  const tool = (name: string, says: string, run: () => void, active = false) => (
    <button
      key={name}
      type="button"
      aria-pressed={active}
      onClick={run}
      className={`rounded px-2 py-0.5 text-[0.87rem] hover:bg-paper ${active ? "bg-paper font-bold" : ""}`}
    >
      {says}
    </button>
  )
  return (
    <div>
      <span id={`${id}-label`} className="mb-1 block text-[0.87rem] font-semibold">
        {label}
      </span>
      <div className="rounded-md border border-line bg-card focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-amber">
        {editor ? (
          <div
            className="flex flex-wrap items-center gap-0.5 border-b border-line px-1.5 py-1"
            role="toolbar"
            aria-label={`${label}: formatting`}
          >
            {tool("bold", "Bold", () => editor.chain().focus().toggleBold().run(), editor.isActive("bold"))}
            {tool("italic", "Italic", () => editor.chain().focus().toggleItalic().run(), editor.isActive("italic"))}
            {tool(
              "heading",
              "Heading",
              () => editor.chain().focus().toggleHeading({ level: 2 }).run(),
              editor.isActive("heading"),
            )}
            {tool("list", "List", () => editor.chain().focus().toggleBulletList().run(), editor.isActive("bulletList"))}
            {tool(
              "link",
              "Link",
              () => setLinking(editor.getAttributes("link").href ?? "https://"),
              editor.isActive("link"),
            )}
            {chips.length ? (
              <select
                aria-label="Insert name or course"
                className="ml-1 rounded border border-line bg-card px-1 py-0.5 text-[0.87rem]"
                value=""
                onChange={(e) => {
                  const chip = chips.find((c) => c.word === e.target.value)
                  if (chip)
                    editor
                      .chain()
                      .focus()
                      .insertContent([
                        {
                          type: "text",
                          text: chip.label,
                          marks: [{ type: "chip", attrs: { word: chip.word, otherwise: chip.otherwise } }],
                        },
                        { type: "text", text: " " },
                      ])
                      .run()
                }}
              >
                <option value="">Insert name or course…</option>
                {chips.map((c) => (
                  <option key={c.word} value={c.word}>
                    {c.label}
                  </option>
                ))}
              </select>
            ) : null}
          </div>
        ) : null}
        {linking !== null && editor ? (
          <form
            className="flex gap-2 border-b border-line px-2 py-1.5"
            onSubmit={(e) => {
              e.preventDefault()
              if (linking.trim() === "" || linking === "https://") editor.chain().focus().unsetLink().run()
              else editor.chain().focus().extendMarkRange("link").setLink({ href: linking.trim() }).run()
              setLinking(null)
            }}
          >
            <input
              aria-label="Address the link leads to"
              className="min-w-0 flex-1 rounded border border-line bg-card px-2 py-0.5"
              value={linking}
              onChange={(e) => setLinking(e.target.value)}
            />
            <button type="submit" className="rounded border border-line px-2">
              Set
            </button>
          </form>
        ) : null}
        <EditorContent editor={editor} />
      </div>
    </div>
  )
}
