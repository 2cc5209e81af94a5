"use client"

import { type Editor, Mark, mergeAttributes, Node } from "@tiptap/core"
import { EditorContent, useEditor, useEditorState } from "@tiptap/react"
import StarterKit from "@tiptap/starter-kit"
import { type ReactNode, useId, useState } from "react"
import { option } from "./field"

/** A personal word: reads as what will stand there, and carries the words for those of whom it isn't known. */
const ChipMark = Mark.create({
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

/** A picture that has been uploaded, by its number; where it is fetched from is looked up whenever it is drawn. */
const PictureNode = Node.create({
  name: "picture",
  group: "block",
  atom: true,
  draggable: true,
  addAttributes() {
    return {
      media: { parseHTML: (e) => e.getAttribute("data-media"), renderHTML: (a) => ({ "data-media": a.media }) },
      alt: { default: "", parseHTML: (e) => e.getAttribute("alt") ?? "", renderHTML: (a) => ({ alt: a.alt }) },
      src: { default: null, parseHTML: (e) => e.getAttribute("src") },
    }
  },
  parseHTML: () => [{ tag: "img[data-media]" }],
  renderHTML: ({ HTMLAttributes }) => ["img", HTMLAttributes],
})

export type Chip = {
  readonly word: string
  readonly label: string
  readonly otherwise: string
  /** Under which it stands in the list. */
  readonly group: string
}

type Picture = { readonly id: number; readonly name: string; readonly url: string }

/** What the text of an e-mail can hold besides words: personal words, and pictures by their number. */
export const letterNodes = [ChipMark, PictureNode]

/** The HTML with what chips are called now, and with where pictures are fetched from. */
export function fresh(html: string, chips: readonly Chip[], pictures: readonly Picture[]): string {
  const holder = new DOMParser().parseFromString(html, "text/html").body
  for (const span of holder.querySelectorAll("span[data-word]")) {
    const chip = chips.find((c) => c.word === span.getAttribute("data-word"))
    if (chip) span.textContent = chip.label
  }
  for (const image of holder.querySelectorAll("img[data-media]")) {
    const picture = pictures.find((p) => String(p.id) === image.getAttribute("data-media"))
    if (picture) image.setAttribute("src", picture.url)
  }
  return holder.innerHTML
}

/** As it is kept. */
export const withoutSources = (html: string) => html.replace(/(<img\b[^>]*?) src="[^"]*"/g, "$1")

/**
 * Rich text as HTML. `chips` are the personal words that can be put in, `moment` makes one of a date and time, `pictures` are those
 * that can be shown; `upload` draws what brings another.
 */
export function RichText({
  label,
  value,
  onChange,
  chips = [],
  moment,
  pictures,
  upload,
  ours,
}: {
  label: string
  value: string
  onChange: (html: string) => void
  chips?: readonly Chip[]
  moment?: (local: string) => Chip
  pictures?: readonly Picture[]
  upload?: (put: (picture: Picture) => void) => ReactNode
  /** What a link may lead to besides addresses outside. */
  ours?: (href: string) => boolean
}) {
  const id = useId()
  const [asking, setAsking] = useState<"link" | "picture" | null>(null)
  const [typed, setTyped] = useState("")
  const editor = useEditor({
    immediatelyRender: false,
    extensions: [
      StarterKit.configure({
        heading: { levels: [2, 3] },
        link: {
          openOnClick: false,
          protocols: ["http", "https", "mailto"],
          isAllowedUri: (href, { defaultValidate }) => ours?.(href) || defaultValidate(href),
        },
      }),
      ChipMark,
      ...(pictures ? [PictureNode] : []),
    ],
    onBeforeCreate: ({ editor }) => {
      editor.options.content = fresh(value, chips, pictures ?? [])
    },
    editorProps: {
      attributes: {
        role: "textbox",
        "aria-multiline": "true",
        "aria-labelledby": `${id}-label`,
        class: "tiptap prose-heron",
      },
    },
    onUpdate: ({ editor }) => onChange(withoutSources(editor.getHTML())),
  })
  const at = useEditorState({
    editor,
    selector: ({ editor }) => ({
      picture: editor?.isActive("picture") ? String(editor.getAttributes("picture").alt ?? "") : null,
    }),
  })
  const tool = (name: string, says: string, run: () => void, active = false) => (
    <button
      key={name}
      type="button"
      aria-pressed={active}
      onClick={run}
      className={`rounded px-2 py-0.5 text-label hover:bg-paper ${active ? "bg-paper font-bold" : ""}`}
    >
      {says}
    </button>
  )
  const putPicture = (p: Picture) => {
    editor
      ?.chain()
      .focus()
      .insertContent({ type: "picture", attrs: { media: String(p.id), alt: "", src: p.url } })
      .run()
    setAsking(null)
  }
  const ask = (what: typeof asking, begin = "") => {
    setTyped(begin)
    setAsking(what)
  }
  return (
    <div>
      <span id={`${id}-label`} className="mb-1 block text-label font-semibold">
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
            {tool("link", "Link", () => ask("link", editor.getAttributes("link").href ?? "https://"))}
            {pictures ? tool("picture", "Picture", () => ask("picture")) : null}
            {pictures ? tool("line", "Line", () => editor.chain().focus().setHorizontalRule().run()) : null}
            {editor && chips.length ? <ChipTools editor={editor} chips={chips} moment={moment} /> : null}
          </div>
        ) : null}
        {asking === "link" && editor ? (
          <form
            className="flex gap-2 border-b border-line px-2 py-1.5"
            onSubmit={(e) => {
              e.preventDefault()
              if (typed.trim() === "" || typed === "https://") editor.chain().focus().unsetLink().run()
              else editor.chain().focus().extendMarkRange("link").setLink({ href: typed.trim() }).run()
              setAsking(null)
            }}
          >
            <input
              aria-label="Address the link leads to"
              className="min-w-0 flex-1 rounded border border-line bg-card px-2 py-0.5"
              value={typed}
              onChange={(e) => setTyped(e.target.value)}
            />
            <button type="submit" className="rounded border border-line px-2">
              Set
            </button>
          </form>
        ) : null}
        {asking === "picture" ? (
          <div className="grid items-end gap-3 border-b border-line px-2 py-1.5 sm:grid-cols-2">
            <select
              aria-label="Picture to put in"
              className="min-h-9 min-w-0 rounded border border-line bg-card px-2"
              value=""
              onChange={(e) => {
                const chosen = pictures?.find((p) => String(p.id) === e.target.value)
                if (chosen) putPicture(chosen)
              }}
            >
              <option value="">Choose a picture…</option>
              {pictures?.map((p) => option(p.id, p.name))}
            </select>
            {upload?.(putPicture)}
          </div>
        ) : null}
        {at?.picture != null && editor ? (
          <label className="flex items-center gap-2 border-b border-line bg-paper px-2 py-1 text-label">
            What it shows, for those who can’t see it:
            <input
              className="min-w-0 flex-1 rounded border border-line bg-card px-2 py-0.5"
              value={at.picture}
              maxLength={300}
              onChange={(e) => editor.commands.updateAttributes("picture", { alt: e.target.value })}
            />
          </label>
        ) : null}
        <EditorContent editor={editor} />
      </div>
    </div>
  )
}

/** In a toolbar: personal words to put in, a time, and what stands where the word under the caret isn’t known. */
export function ChipTools({
  editor,
  chips,
  moment,
}: {
  editor: Editor
  chips: readonly Chip[]
  /** Makes one of a date and time at the school. */
  moment: ((local: string) => Chip) | undefined
}) {
  const [asking, setAsking] = useState(false)
  const [typed, setTyped] = useState("")
  const otherwise = useEditorState({
    editor,
    selector: ({ editor }) => (editor.isActive("chip") ? String(editor.getAttributes("chip").otherwise ?? "") : null),
  })
  const put = (chip: Chip) =>
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
  const groups = [...new Set(chips.map((c) => c.group))]
  return (
    <>
      <select
        aria-label="Insert a personal word"
        className="ml-1 min-h-7 max-w-44 rounded border border-line bg-card px-1 py-0.5 text-label"
        value=""
        onChange={(e) => {
          const chip = chips.find((c) => c.word === e.target.value)
          if (chip) put(chip)
          else setAsking(e.target.value === "moment")
        }}
      >
        <option value="">Insert…</option>
        {groups.map((group) => (
          <optgroup key={group} label={group}>
            {chips.filter((c) => c.group === group).map((c) => option(c.word, c.label))}
          </optgroup>
        ))}
        {moment ? (
          <optgroup label="Times">
            <option value="moment">A date and time, where they are…</option>
          </optgroup>
        ) : null}
      </select>
      {asking && moment ? (
        <form
          className="flex w-full gap-2 px-0.5 py-1.5"
          onSubmit={(e) => {
            e.preventDefault()
            if (typed) put(moment(typed.slice(0, 16)))
            setAsking(false)
          }}
        >
          <input
            aria-label="Date and time at the school"
            type="datetime-local"
            className="min-w-0 flex-1 rounded border border-line bg-card px-2 py-0.5"
            value={typed}
            onChange={(e) => setTyped(e.target.value)}
          />
          <button type="submit" className="rounded border border-line px-2">
            Set
          </button>
        </form>
      ) : null}
      {otherwise === null ? null : (
        <label className="flex w-full items-center gap-2 bg-paper px-2 py-1 text-label">
          Where it isn’t known:
          <input
            className="min-w-0 flex-1 rounded border border-line bg-card px-2 py-0.5"
            value={otherwise}
            maxLength={80}
            onChange={(e) =>
              editor
                .chain()
                .extendMarkRange("chip")
                .updateAttributes("chip", { otherwise: e.target.value.replace(/[‹›]/g, "") })
                .run()
            }
          />
        </label>
      )}
    </>
  )
}
