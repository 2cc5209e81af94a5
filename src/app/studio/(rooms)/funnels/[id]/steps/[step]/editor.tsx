"use client"

import { useCallback } from "react"
import { type CompileContext, compilePage } from "@/core/funnel/compile"
import type { Funnel, Step } from "@/core/funnel/draft"
import { stepKinds } from "@/core/funnel/step/list"
import { blocksFor } from "@/core/page/block/list"
import { fillPage } from "@/core/page/compile"
import type { Page } from "@/core/page/document"
import { locale } from "@/core/words/locale"
import type { LinkTarget } from "@/server/page/links"
import type { EditorFile, EditorPicture, EditorVideo } from "../../../../page-editor/block/settings"
import { type KeptSectionHere, PageEditor } from "../../../../page-editor/page-editor"
import { savePageAction, wearAlikeAction } from "../../../actions"

type Props = {
  readonly funnel: Funnel
  readonly step: Step
  readonly revision: number
  /** What its pages are drawn with. */
  readonly context: CompileContext
  readonly pictures: readonly EditorPicture[]
  readonly courses: readonly { id: number; title: string }[]
  readonly segments: readonly { id: number; name: string }[]
  /** Of the school's own address. */
  readonly host: string
  readonly videos: readonly EditorVideo[]
  readonly files: readonly EditorFile[]
  readonly strip: readonly { id: number; name: string; n: number }[]
  readonly at: number
  readonly sections: readonly KeptSectionHere[]
  readonly targets: readonly LinkTarget[]
  readonly firstBlock: string | null
}

/** The page of a step, beside those before and after it. */
export function StepEditor({
  funnel,
  step,
  revision,
  context,
  pictures,
  courses,
  segments,
  videos,
  host,
  files,
  strip,
  at,
  sections,
  targets,
  firstBlock,
}: Props) {
  const draw = useCallback(
    (page: Page, shown: readonly EditorPicture[], playing: readonly EditorVideo[]) => {
      const drawn: CompileContext = {
        ...context,
        pictures: new Map(shown.map((p) => [p.id, p])),
        videos: new Map(playing.map((x) => [x.id, x])),
      }
      return fillPage(compilePage({ ...step, page }, drawn).pieces, {})
    },
    [context, step],
  )
  const save = useCallback(
    (known: number, page: Page, base: Page) => savePageAction(step.id, known, page, base),
    [step.id],
  )
  const neighbour = (x: Props["strip"][number] | undefined) =>
    x && { name: x.name, note: x.n.toLocaleString(locale), href: `/studio/funnels/${funnel.id}/steps/${x.id}` }
  return (
    <PageEditor
      page={step.page as Page}
      whose={{ step: step.id }}
      revision={revision}
      name={step.name}
      note={`${strip[at]?.n.toLocaleString(locale)} visited it in the last 21 days`}
      home={{ says: funnel.name, href: `/studio/funnels/${funnel.id}?step=s${step.id}` }}
      before={neighbour(strip[at - 1])}
      after={neighbour(strip[at + 1])}
      look={context.school.look}
      kinds={blocksFor(stepKinds[step.kind].blocks)}
      found={{ address: `${host}/${step.path}`, school: context.school.name }}
      pictures={pictures}
      videos={videos}
      files={files}
      courses={courses}
      segments={segments}
      offers={Object.values(context.offers ?? {})}
      teachers={[...(context.teachers ?? [])].map(([id, t]) => ({ id, name: t.name }))}
      fields={context.fields ?? []}
      of={{ funnel, step }}
      sections={sections}
      targets={targets}
      firstBlock={firstBlock}
      draw={draw}
      save={save}
      wearAlike={(form) => wearAlikeAction(step.id, form)}
    />
  )
}
