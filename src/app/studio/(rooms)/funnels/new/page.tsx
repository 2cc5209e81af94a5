import { studio } from "@/app/guard"
import { giftsOf } from "@/core/offer/offer"
import { listCourses } from "@/server/course/course"
import { offersWithProgramme } from "@/server/funnel/effects-view"
import { loadOffers } from "@/server/offer/offer"
import { listWebinars } from "@/server/webinar/webinar"
import { Button } from "@/ui/button"
import { Link } from "@/ui/link"
import { NewFunnelForm } from "./form"

export const metadata = { title: "New funnel" }

export default async function NewFunnelPage({ searchParams }: { searchParams: Promise<{ offer?: string }> }) {
  const s = await studio()
  const courses = await listCourses(s.db)
  const offers = await loadOffers(s.db)
  const choices = [...offers.values()].map((o) => ({
    id: o.id,
    name: o.publicName,
    gives: giftsOf(o, offers)
      .map((g) => g.title)
      .join(", "),
  }))
  const asked = Number((await searchParams).offer)
  return (
    <div className="mx-auto max-w-2xl pt-6">
      <h1>New funnel</h1>
      {courses.length === 0 && choices.every((o) => !o.gives) ? (
        <>
          <p className="mt-4 text-lg">
            A funnel is made from a course. Write one first: a title and a single lesson are enough.
          </p>
          <p className="mt-4">
            <Button asChild look="primary">
              <Link href="/studio/courses?new">Write a course</Link>
            </Button>
          </p>
        </>
      ) : (
        <NewFunnelForm
          courses={courses.map((c) => ({ id: c.id, title: c.title, lessons: c.lessons }))}
          offers={choices}
          webinars={(await listWebinars(s)).map((w) => ({ id: w.id, name: w.webinar.title }))}
          programmes={await offersWithProgramme(s.db)}
          offer={choices.find((o) => o.id === asked && o.gives)?.id ?? null}
        />
      )}
    </div>
  )
}
