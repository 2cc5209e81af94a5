import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { mailPage } from "@/core/mail/page"
import { mailsInOrder } from "@/core/sequence/document"
import { mailEditorContext } from "@/server/mail/editor-view"
import { mediaNames } from "@/server/media/media-view"
import { mailsStand } from "@/server/sequence/edit"
import { editorChoices } from "@/server/sequence/sequence-view"
import { loadSequence, mailPages } from "@/server/sequence/store"
import { idOf } from "../../../../../asked"
import { MailPageEditor } from "../../../../mail-page-editor"
import { saveMailPageAction } from "../../../actions"

export const metadata = { title: "E-mail" }

export default async function SequenceMailPage({
  params,
  searchParams,
}: {
  params: Promise<{ sequence: string; mail: string }>
  searchParams: Promise<{ block?: string }>
}) {
  const s = await studio()
  const { sequence, mail } = await params
  const q = await loadSequence(s.db, idOf(sequence))
  const found = q?.mails.find((m) => m.id === idOf(mail))
  const context = await mailEditorContext(s)
  if (!q || !found || !context) notFound()
  const mails = mailsInOrder(q.flow.steps, q.mails)
  const at = mails.findIndex((m) => m.id === found.id)
  const neighbour = (n: number) => {
    const m = at < 0 ? undefined : mails[n]
    return (
      m && {
        name: m.subject || "Without a subject",
        note: `${n + 1}`,
        href: `/studio/mail/sequences/${q.id}/mails/${m.id}`,
      }
    )
  }
  return (
    <MailPageEditor
      key={found.id}
      whose={{ mail: found.id }}
      page={mailPage({ page: (await mailPages(s.db, q.id)).get(found.id) ?? null, body: found.body })}
      revision={(await mailsStand(s.db, q.id))[found.id]!.revision}
      subject={found.subject}
      note={at < 0 ? "Sent by no step" : `${at + 1} of ${mails.length}`}
      button={found.button}
      home={{ name: q.name, note: "", href: `/studio/mail/sequences/${q.id}` }}
      before={neighbour(at - 1)}
      after={neighbour(at + 1)}
      context={context}
      choices={await editorChoices(s.db)}
      pictures={(await mediaNames(s.db, s.config)).filter((m) => m.kind === "picture")}
      firstBlock={(await searchParams).block ?? null}
      save={saveMailPageAction.bind(null, found.id)}
    />
  )
}
