import { admitted, context, learning } from "@/app/guard"
import { myCourse } from "@/server/course/learn"
import { ownQuote } from "@/server/course/quote"
import { signedIn } from "@/server/person/session"
import { gate } from "../../gate"
import { WordsForm } from "./words-form"

export const metadata = { title: "Your words" }

/** What a learner says of the course; shown to nobody before they agreed and the school chose it. */
export default async function WordsPage({ params }: { params: Promise<{ course: string }> }) {
  const { course: slug } = await params
  const who = await admitted()
  const s = who ? learning(who) : context()
  const course = await myCourse(s, who, slug)
  const learner = signedIn(who)
  if (!course || !learner) return gate(who, slug, null)
  return (
    <>
      <h1>What do you say of “{course.title}”?</h1>
      <p className="mt-1 text-soft">A sentence or two help others to decide.</p>
      <WordsForm course={course.id} slug={slug} mine={await ownQuote(s.db, learner.person, course.id)} />
    </>
  )
}
