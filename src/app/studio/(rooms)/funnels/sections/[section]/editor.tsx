"use client"

import { type ReactNode, useCallback } from "react"
import { type CompileContext, compilePage } from "@/core/funnel/compile"
import type { Funnel, Step } from "@/core/funnel/draft"
import { fillPage } from "@/core/page/compile"
import type { Page } from "@/core/page/document"
import { keptBlocks } from "@/core/page/kept"
import type { KeptSection } from "@/server/page/kept"
import type { LinkTarget } from "@/server/page/links"
import { alone } from "../../../page-editor/add-block"
import type { EditorFile, EditorPicture, EditorVideo } from "../../../page-editor/block/settings"
import { PageEditor } from "../../../page-editor/page-editor"
import { saveSectionAction } from "../actions"
import { PublishSection } from "./publish-section"

/** A section that stands on many pages, alone. */
export function SectionEditor({
  section,
  places,
  funnel,
  step,
  context,
  children,
  ...rest
}: {
  section: KeptSection
  /** On how many pages and lessons it stands. */
  places: number
  funnel: Funnel
  step: Step
  context: CompileContext
  pictures: readonly EditorPicture[]
  videos: readonly EditorVideo[]
  files: readonly EditorFile[]
  courses: readonly { id: number; title: string }[]
  segments: readonly { id: number; name: string }[]
  targets: readonly LinkTarget[]
  /** Where it stands. */
  children: ReactNode
}) {
  const draw = useCallback(
    (page: Page, pictures: readonly EditorPicture[], videos: readonly EditorVideo[]) => {
      const drawn: CompileContext = {
        ...context,
        pictures: new Map(pictures.map((p) => [p.id, p])),
        videos: new Map(videos.map((x) => [x.id, x])),
      }
      return fillPage(compilePage({ ...step, page }, drawn).pieces, {}).replace("</head>", `${alone}</head>`)
    },
    [context, step],
  )
  const save = useCallback(
    (known: number, page: Page, base: Page) => saveSectionAction(section.id, known, page, base),
    [section.id],
  )
  return (
    <PageEditor
      page={section.page}
      whose={{ section: section.id }}
      revision={section.revision}
      name={section.name}
      note={`Stands on ${places === 1 ? "1 page" : `${places} pages`}`}
      home={{ says: "Kept sections", href: "/studio/funnels/sections" }}
      before={undefined}
      after={undefined}
      look={context.school.look}
      kinds={keptBlocks}
      found={null}
      offers={Object.values(context.offers ?? {})}
      teachers={[...(context.teachers ?? [])].map(([id, t]) => ({ id, name: t.name }))}
      of={{ funnel, step }}
      firstBlock={null}
      draw={draw}
      save={save}
      also={
        <PublishSection id={section.id} name={section.name} places={places}>
          {children}
        </PublishSection>
      }
      {...rest}
    />
  )
}
