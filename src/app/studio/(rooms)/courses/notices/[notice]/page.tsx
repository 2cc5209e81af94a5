import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { readNotice } from "@/server/notice/notice"
import { noticeChoices, whyHidden } from "@/server/notice/notice-view"
import { todayAtSchool } from "@/server/notice/show"
import { Back } from "@/ui/link"
import { idOf } from "../../../asked"
import { hiddenWords } from "../words"
import { NoticeEditor } from "./notice-editor"

export const metadata = { title: "Notice" }

export default async function NoticePage({ params }: { params: Promise<{ notice: string }> }) {
  const s = await studio()
  const id = idOf((await params).notice)
  const notice = await readNotice(s.db, id)
  if (!notice) notFound()
  const hidden = await whyHidden(s.db, notice.value, await todayAtSchool(s))
  return (
    <div className="mx-auto max-w-5xl pt-2">
      <Back href="/studio/courses/notices">Notices</Back>
      <h1 className="mt-1 truncate">{notice.value.title}</h1>
      <NoticeEditor
        id={id}
        notice={notice}
        choices={await noticeChoices(s.db)}
        hidden={notice.value.live && hidden ? hiddenWords[hidden] : ""}
      />
    </div>
  )
}
