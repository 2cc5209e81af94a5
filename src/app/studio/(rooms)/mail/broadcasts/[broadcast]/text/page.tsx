import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { mailPage } from "@/core/mail/page"
import { readBroadcast } from "@/server/broadcast/store"
import { mailEditorContext } from "@/server/mail/editor-view"
import { mediaNames } from "@/server/media/media-view"
import { editorChoices } from "@/server/sequence/sequence-view"
import { idOf } from "../../../../asked"
import { MailPageEditor } from "../../../mail-page-editor"
import { saveBroadcastPageAction } from "../../actions"

export const metadata = { title: "Broadcast" }

export default async function BroadcastTextPage({
  params,
  searchParams,
}: {
  params: Promise<{ broadcast: string }>
  searchParams: Promise<{ block?: string }>
}) {
  const s = await studio()
  const b = await readBroadcast(s.db, idOf((await params).broadcast))
  const context = await mailEditorContext(s)
  if (b?.state !== "draft" || !context) notFound()
  return (
    <MailPageEditor
      whose={{ broadcast: b.id }}
      page={mailPage({ page: b.page, body: b.document.body })}
      revision={b.revision}
      subject={b.document.subjects[0]!}
      note="A draft"
      button={b.document.button}
      home={{ name: b.name, note: "", href: `/studio/mail/broadcasts/${b.id}` }}
      before={undefined}
      after={undefined}
      context={context}
      choices={await editorChoices(s.db)}
      pictures={(await mediaNames(s.db, s.config)).filter((m) => m.kind === "picture")}
      firstBlock={(await searchParams).block ?? null}
      save={saveBroadcastPageAction.bind(null, b.id)}
    />
  )
}
