import { context } from "@/app/guard"
import { askedOf, type SurveyAnswers } from "@/core/course/survey"
import { embeddedHost } from "@/core/page/block/embed"
import { allBlocks, type Block } from "@/core/page/document"
import { writeLesson } from "@/core/page/lesson"
import type { Recommending } from "@/server/affiliate/recommend"
import type { HandIn } from "@/server/course/hand-in"
import type { OpenLesson } from "@/server/course/learn"
import { addressesFor, type LessonMedia, picturesAmong } from "@/server/course/lesson-page"
import type { AskedQuiz } from "@/server/course/quiz"
import { mediaLink } from "@/server/media/store"
import { TakeAway } from "../../take-away"
import { AssignmentForm } from "./assignment-form"
import { Embedded } from "./embedded"
import { LessonVideo } from "./lesson-video"
import { QuizForm } from "./quiz-form"
import { Recommend } from "./recommend"
import { SurveyForm } from "./survey-form"

/** What a lesson says, and between it what plays, is taken away or asked. */
export function LessonContent({
  open,
  slug,
  quizzes,
  handIns,
  surveys,
  recommends,
}: {
  open: OpenLesson
  slug: string
  quizzes: readonly AskedQuiz[]
  /** What was handed in; null: nobody is signed in with all they have. */
  handIns: readonly HandIn[] | null
  /** What was answered to its surveys. */
  surveys: ReadonlyMap<string, SurveyAnswers>
  /** What it asks to recommend, by its block. */
  recommends: ReadonlyMap<string, Recommending>
}) {
  const { config } = context()
  const { page, media, lesson } = open
  const blocks = new Map([...allBlocks(page.blocks)].map((b) => [b.id, b]))
  const link = (m: LessonMedia) => mediaLink(config, m.stored, Date.now())
  const pictures = picturesAmong(media)
  const addresses = addressesFor(open, link)
  const pieces = writeLesson(page, { pictures, videos: new Map(), release: 1, addresses })
  return (
    <div className="mt-5 space-y-5">
      {pieces.map((p) =>
        typeof p === "string" ? (
          <div key={p} className="prose-heron" dangerouslySetInnerHTML={{ __html: p }} />
        ) : (
          <PartOf
            key={p.block}
            block={blocks.get(p.block)}
            media={media}
            link={link}
            slug={slug}
            lesson={lesson.id}
            watches={open.doneBy === "watched" && !open.course.done.has(lesson.id)}
            quiz={quizzes.find((q) => q.block === p.block)}
            handIn={handIns?.find((h) => h.block === p.block)}
            answers={surveys.get(p.block)}
            recommends={recommends.get(p.block)}
            mine={handIns !== null}
          />
        ),
      )}
    </div>
  )
}

function PartOf({
  block,
  media,
  link,
  slug,
  lesson,
  watches,
  quiz,
  handIn,
  answers,
  recommends,
  mine,
}: {
  block: Block | undefined
  media: ReadonlyMap<number, LessonMedia>
  link: (m: LessonMedia) => string
  slug: string
  lesson: number
  watches: boolean
  quiz: AskedQuiz | undefined
  handIn: HandIn | undefined
  answers: SurveyAnswers | undefined
  recommends: Recommending | undefined
  mine: boolean
}) {
  if (quiz) return <QuizForm slug={slug} lesson={lesson} quiz={quiz} />
  if (block && "recommends" in block) return recommends ? <Recommend asks={block.invites} r={recommends} /> : null
  if (block && "asks" in block)
    return (
      <AssignmentForm
        slug={slug}
        lesson={lesson}
        block={block.id}
        asks={block.asks}
        takesFile={block.file}
        known={handIn && { ...handIn, link: handIn.file ? fileLink(handIn.file.stored) : null }}
        mine={mine}
      />
    )
  if (block && "survey" in block)
    return (
      <SurveyForm
        slug={slug}
        lesson={lesson}
        block={block.id}
        items={askedOf(block.survey)}
        known={answers}
        mine={mine}
      />
    )
  if (block && "url" in block) {
    const host = embeddedHost(block.url)
    return host ? <Embedded url={block.url} host={host} says={block.says} /> : null
  }
  if (!block || !("media" in block)) return null
  const shown = block.media ? media.get(block.media) : undefined
  if (!shown) return null
  if ("download" in block) {
    const captions = block.captions === null ? undefined : media.get(block.captions)
    return (
      <LessonVideo
        id={shown.id}
        src={link(shown)}
        says={block.says}
        captions={captions ? link(captions) : null}
        download={block.download ? shown.name : null}
        chapters={block.chapters}
        course={slug}
        lesson={lesson}
        watches={watches}
      />
    )
  }
  const says = "says" in block ? block.says : ""
  if (shown.type.startsWith("audio/"))
    return (
      <figure>
        {says ? <figcaption className="mb-1 font-semibold">{says}</figcaption> : null}
        <audio controls preload="metadata" src={link(shown)} className="w-full" aria-label={says || shown.name} />
      </figure>
    )
  return <TakeAway says={says || shown.name} size={shown.size} href={link(shown)} />
}

const fileLink = (stored: string) => mediaLink(context().config, stored, Date.now())
