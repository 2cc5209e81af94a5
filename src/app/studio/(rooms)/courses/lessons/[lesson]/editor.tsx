"use client"

import { useCallback } from "react"
import { escapeHtml } from "@/core/html"
import type { Look } from "@/core/look/look"
import { blockKinds, lessonBlocks } from "@/core/page/block/list"
import { allBlocks, type Page } from "@/core/page/document"
import { fillKept } from "@/core/page/kept"
import { writeLesson } from "@/core/page/lesson"
import type { OfferCard } from "@/core/page/selling"
import { styleSheet } from "@/core/page/style"
import type { LinkTarget } from "@/server/page/links"
import type { Neighbour } from "../../../page-editor/bar"
import type { EditorFile, EditorPicture, EditorVideo } from "../../../page-editor/block/settings"
import { type KeptSectionHere, PageEditor } from "../../../page-editor/page-editor"
import { saveLessonPageAction } from "../../actions"

type Props = {
  readonly lesson: number
  readonly title: string
  readonly page: Page
  readonly revision: number
  readonly course: string
  readonly home: string
  readonly note: string
  readonly before: Neighbour | undefined
  readonly after: Neighbour | undefined
  readonly look: Look
  readonly pictures: readonly EditorPicture[]
  readonly videos: readonly EditorVideo[]
  readonly files: readonly EditorFile[]
  readonly sections: readonly KeptSectionHere[]
  readonly targets: readonly LinkTarget[]
  readonly firstBlock: string | null
  readonly offers: readonly OfferCard[]
}

/** What plays, is taken away or asked is made for each learner: here it only says what it is. */
const partCss =
  ".part{border:1px solid #8886;border-radius:8px;padding:.9rem 1rem;margin:0 0 1.25rem}.part b{display:block;font-size:.85rem;opacity:.75}"

/** The page of a lesson, beside the lessons before and after it. */
export function LessonPageEditor({ lesson, title, course, home, look, sections, ...rest }: Props) {
  const draw = useCallback(
    (written: Page, pictures: readonly EditorPicture[], videos: readonly EditorVideo[]) => {
      const page = fillKept(written, new Map(sections.map((x) => [x.id, x.blocks])))
      const blocks = new Map([...allBlocks(page.blocks)].map((b) => [b.id, b]))
      const pieces = writeLesson(page, {
        pictures: new Map(pictures.map((p) => [p.id, p])),
        videos: new Map(videos.map((x) => [x.id, x])),
        release: 0,
      })
      const body = pieces.map((p) => {
        const b = typeof p === "string" ? undefined : blocks.get(p.block)
        if (typeof p === "string" || !b) return typeof p === "string" ? p : ""
        const video = "media" in b ? videos.find((x) => x.id === b.media) : undefined
        if (video)
          return `<video data-block="${b.within ?? b.id}" src="${escapeHtml(video.url)}" controls preload="metadata"></video>`
        const { name, line } = blockKinds[b.kind]
        return `<div class="part" data-block="${b.within ?? b.id}"><b>${escapeHtml(name)}</b>${escapeHtml(line(b))}</div>`
      })
      return `<!doctype html><html lang="en"><head><style>${styleSheet(look)}${partCss}</style></head><body><main><h1 dir="auto">${escapeHtml(title)}</h1>${body.join("")}</main></body></html>`
    },
    [title, look, sections],
  )
  const save = useCallback(
    (known: number, page: Page, base: Page) => saveLessonPageAction(lesson, known, page, base),
    [lesson],
  )
  return (
    <PageEditor
      whose={{ lesson }}
      name={title || "A lesson without a title"}
      home={{ says: course, href: home }}
      look={look}
      kinds={lessonBlocks}
      found={null}
      courses={[]}
      of={null}
      draw={draw}
      save={save}
      sections={sections}
      {...rest}
    />
  )
}
