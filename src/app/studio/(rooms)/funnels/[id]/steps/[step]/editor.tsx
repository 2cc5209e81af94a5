"use client"

import { useCallback } from "react"
import { type CompileContext, compilePage } from "@/core/funnel/compile"
import type { Funnel, Step } from "@/core/funnel/draft"
import { stepKinds } from "@/core/funnel/step/list"
import { blocksFor } from "@/core/page/block/list"
import { fillPage } from "@/core/page/compile"
import type { Page } from "@/core/page/document"
import type { Field } from "@/core/person/field"
import { locale } from "@/core/words/locale"
import type { EditorPicture, EditorVideo } from "../../../../page-editor/block/settings"
import { PageEditor } from "../../../../page-editor/page-editor"
import { savePageAction } from "../../../actions"

type Props = {
  readonly funnel: Funnel
  readonly step: Step
  readonly revision: number
  readonly school: CompileContext["school"]
  readonly pictures: readonly EditorPicture[]
  readonly courses: readonly { id: number; title: string }[]
  readonly videos: readonly EditorVideo[]
  readonly offers: NonNullable<CompileContext["offers"]>
  readonly fields: readonly Field[]
  readonly strip: readonly { id: number; name: string; n: number }[]
  readonly at: number
  readonly firstBlock: string | null
}

/** The page of a step, beside those before and after it. */
export function StepEditor({
  funnel,
  step,
  revision,
  school,
  pictures,
  courses,
  videos,
  offers,
  fields,
  strip,
  at,
  firstBlock,
}: Props) {
  const draw = useCallback(
    (page: Page, shown: readonly EditorPicture[], playing: readonly EditorVideo[]) => {
      const context: CompileContext = {
        funnel,
        school,
        pictures: new Map(shown.map((p) => [p.id, p])),
        videos: new Map(playing.map((x) => [x.id, x])),
        offers,
        fields,
        release: 0,
      }
      return fillPage(compilePage({ ...step, page }, context).pieces, {})
    },
    [funnel, school, offers, fields, step],
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
      revision={revision}
      name={step.name}
      note={`${strip[at]?.n.toLocaleString(locale)} visited it in the last 21 days`}
      home={{ says: funnel.name, href: `/studio/funnels/${funnel.id}?step=s${step.id}` }}
      before={neighbour(strip[at - 1])}
      after={neighbour(strip[at + 1])}
      look={school.look}
      kinds={blocksFor(stepKinds[step.kind].blocks)}
      titled
      pictures={pictures}
      videos={videos}
      files={[]}
      courses={courses}
      offers={Object.values(offers)}
      fields={fields}
      of={{ funnel, step }}
      firstBlock={firstBlock}
      draw={draw}
      save={save}
    />
  )
}
