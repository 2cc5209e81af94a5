import { context } from "@/app/guard"
import { allBlocks } from "@/core/page/document"
import { writeLesson } from "@/core/page/lesson"
import type { LearnCourse } from "@/server/course/learn"
import { addressesFor, picturesAmong } from "@/server/course/lesson-page"
import type { OpenFiles } from "@/server/course/my-files"
import { mediaLink } from "@/server/media/store"
import { TakeAway } from "../take-away"

/** A course of files: what there is to take away, and when the rest comes. No way through it, nothing to be done. */
export function FilesPage({ course, open }: { course: LearnCourse; open: readonly OpenFiles[] }) {
  const { config } = context()
  const coming = course.lessons.filter((l) => !l.may.open)
  return (
    <>
      <h1>{course.title}</h1>
      <p className="mt-1 text-soft">
        {course.promise}
        {course.teacher ? <span className="block">With {course.teacher}</span> : null}
      </p>
      {open.map(({ lesson, page, media, addresses: known }) => {
        const blocks = new Map([...allBlocks(page.blocks)].map((b) => [b.id, b]))
        const pictures = picturesAmong(media)
        const addresses = addressesFor({ addresses: known, media }, (m) => mediaLink(config, m.stored, Date.now()))
        return (
          <section key={lesson.id} aria-label={lesson.title} className="mt-6 border-t border-line pt-5">
            <h2 className="text-xl [overflow-wrap:anywhere]">{lesson.title}</h2>
            <div className="mt-2 space-y-3">
              {writeLesson(page, { pictures, videos: new Map(), release: 1, addresses }).map((p) => {
                if (typeof p === "string")
                  return <div key={p} className="prose-heron" dangerouslySetInnerHTML={{ __html: p }} />
                const block = blocks.get(p.block)
                const file = block && "media" in block && block.media ? media.get(block.media) : undefined
                const says = block && "says" in block ? block.says : ""
                return file ? (
                  <TakeAway
                    key={p.block}
                    says={says || file.name}
                    size={file.size}
                    href={mediaLink(config, file.stored, Date.now())}
                  />
                ) : null
              })}
            </div>
          </section>
        )
      })}
      {coming.length ? (
        <ul className="mt-6 border-t border-line pt-4">
          {coming.map((l) => (
            <li key={l.id} className="py-1.5">
              <span className="block [overflow-wrap:anywhere] text-soft">{l.title}</span>
              {l.says ? <span className="block text-body text-soft">{l.says}</span> : null}
            </li>
          ))}
        </ul>
      ) : null}
    </>
  )
}
