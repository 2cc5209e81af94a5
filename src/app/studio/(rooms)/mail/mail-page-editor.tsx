"use client"

import { useCallback, useMemo } from "react"
import { escapeHtml } from "@/core/html"
import { withPictures } from "@/core/mail/body"
import { bodyOfPage, mailBlocks } from "@/core/mail/page"
import { dressOf, framed, logoImage, mailSheet } from "@/core/mail/sheet"
import type { Page } from "@/core/page/document"
import { words } from "@/core/words/en"
import type { MailEditorContext } from "@/server/mail/editor-view"
import type { PageSaved } from "@/server/page/save"
import type { PageOf } from "@/server/page/version"
import type { Neighbour } from "../page-editor/bar"
import type { EditorPicture } from "../page-editor/block/settings"
import { PageEditor } from "../page-editor/page-editor"
import type { LetterChoices } from "./letter-fields"
import { momentWord, textWords } from "./personal-words"

/** The text of an e-mail, written where it stands. */
export function MailPageEditor({
  whose,
  page,
  revision,
  subject,
  note,
  button,
  home,
  before,
  after,
  context,
  choices,
  pictures,
  firstBlock,
  save,
}: {
  readonly whose: PageOf
  readonly page: Page
  readonly revision: number
  readonly subject: string
  readonly note: string
  /** The words of the button below its text; empty: there is none. */
  readonly button: string
  readonly home: Neighbour
  readonly before: Neighbour | undefined
  readonly after: Neighbour | undefined
  readonly context: MailEditorContext
  readonly choices: LetterChoices
  readonly pictures: readonly EditorPicture[]
  readonly firstBlock: string | null
  readonly save: (known: number, page: Page, base: Page) => Promise<PageSaved>
}) {
  const { about, says, foot } = context
  const draw = useCallback(
    (written: Page, shown: readonly EditorPicture[]) => {
      const body = withPictures(
        bodyOfPage(written, about, says),
        new Map(shown.map((p) => [p.id, { url: p.url, width: p.width, height: p.height }])),
      )
      const below = button
        ? `<table role="presentation" class="go"><tr><td><a>${escapeHtml(button)}</a></td></tr></table>`
        : ""
      const end = `<footer><hr><p class="foot">${[foot.school, foot.postalAddress, words.mail.leaveLine].filter(Boolean).map(escapeHtml).join("<br>")}</p></footer>`
      const head = `<p class="head">${foot.logo ? logoImage(foot.logo, foot.school) : escapeHtml(foot.school)}</p>`
      return `<!doctype html><html lang="en"><head><style>${mailSheet(dressOf(foot.look).day, foot.look)}</style></head><body style="margin:0">${framed(head + body + below + end)}</body></html>`
    },
    [about, says, foot, button],
  )
  const personal = useMemo(() => ({ chips: textWords(choices), moment: momentWord }), [choices])
  return (
    <PageEditor
      page={page}
      whose={whose}
      revision={revision}
      name={subject || "An e-mail without a subject"}
      note={note}
      home={{ says: home.name, href: home.href }}
      before={before}
      after={after}
      look={foot.look}
      kinds={mailBlocks}
      found={null}
      pictures={pictures}
      videos={[]}
      files={[]}
      courses={about.courses}
      offers={context.offers}
      teachers={[...about.teachers].map(([id, t]) => ({ id, name: t.name }))}
      of={null}
      targets={context.targets}
      words={personal}
      firstBlock={firstBlock}
      draw={draw}
      save={save}
    />
  )
}
