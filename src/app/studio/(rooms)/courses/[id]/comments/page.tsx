import { studio } from "@/app/guard"
import { courseComments } from "@/server/course/talk"
import { schoolZone } from "@/server/school-view"
import { idOf } from "../../../asked"
import { studioMoment } from "../../../words"
import { CommentList } from "./comment-list"

export const metadata = { title: "Comments" }

export default async function CommentsPage({ params }: { params: Promise<{ id: string }> }) {
  const s = await studio()
  const id = idOf((await params).id)
  const zone = await schoolZone(s.db)
  const comments = await courseComments(s.db, id)
  return (
    <div className="mt-4 max-w-3xl">
      {comments.length ? (
        <CommentList course={id} comments={comments.map((c) => ({ ...c, at: studioMoment(c.at, zone) }))} />
      ) : (
        <p className="text-soft">Nobody has written anything yet. Comments are switched on lesson by lesson.</p>
      )}
    </div>
  )
}
