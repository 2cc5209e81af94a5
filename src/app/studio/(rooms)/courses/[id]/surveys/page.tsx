import { studio } from "@/app/guard"
import type { SurveyResult } from "@/core/course/survey"
import { locale } from "@/core/words/locale"
import { surveyResults } from "@/server/course/survey"
import { Link } from "@/ui/link"
import { idOf } from "../../../asked"

export const metadata = { title: "Surveys" }

/** Written answers that are shown at once; all of them are in the CSV. */
const shownTexts = 30

export default async function SurveysPage({ params }: { params: Promise<{ id: string }> }) {
  const id = idOf((await params).id)
  const surveys = await surveyResults((await studio()).db, id)
  if (!surveys.length)
    return <p className="mt-4 text-soft">Nothing is asked yet. A survey is a part that you add to a lesson.</p>
  return (
    <div className="mt-4 max-w-3xl space-y-8">
      {surveys.map((x) => (
        <section key={`${x.lesson}-${x.block}`} aria-label={x.title}>
          <div className="flex flex-wrap items-baseline gap-x-4 border-b border-line pb-1">
            <h2 className="min-w-0 [overflow-wrap:anywhere]">
              <Link href={`/studio/courses/lessons/${x.lesson}`} className="hover:underline">
                {x.title}
              </Link>
            </h2>
            <span className="text-soft">
              {x.people === 1 ? "1 person" : `${x.people.toLocaleString(locale)} people`} answered
            </span>
            <a
              className="ml-auto text-body text-slate hover:underline"
              href={`/studio/courses/${id}/surveys/answers.csv?lesson=${x.lesson}&block=${x.block}`}
            >
              CSV
            </a>
          </div>
          <ol className="mt-3 space-y-5">
            {x.results.map((r) => (
              <li key={r.item.id}>
                <Result r={r} />
              </li>
            ))}
          </ol>
        </section>
      ))}
    </div>
  )
}

function Result({ r }: { r: SurveyResult }) {
  const { item } = r
  const most = Math.max(1, r.answered)
  return (
    <>
      <p className="font-semibold whitespace-pre-line [overflow-wrap:anywhere]">{item.asks}</p>
      <p className="text-note text-soft">
        {r.answered === 1 ? "1 answer" : `${r.answered.toLocaleString(locale)} answers`}
        {r.mean === null || item.kind !== "scale" ? "" : `, ${r.mean.toFixed(1)} of ${item.most} on average`}
      </p>
      {r.counts.length ? (
        <table className="mt-1 w-full max-w-2xl table-fixed text-body">
          <tbody>
            {r.counts.map((c, i) => (
              <tr key={`${item.id}-${i}`}>
                <th scope="row" className="w-2/5 py-1 pr-3 text-left font-normal [overflow-wrap:anywhere]">
                  {c.says}
                  {item.kind === "scale" && i === 0 && item.low ? <span className="text-soft"> {item.low}</span> : null}
                  {item.kind === "scale" && i === item.most - 1 && item.high ? (
                    <span className="text-soft"> {item.high}</span>
                  ) : null}
                </th>
                <td className="py-1">
                  <svg viewBox="0 0 100 10" className="h-2.5 w-full" preserveAspectRatio="none" aria-hidden="true">
                    <rect width="100" height="10" fill="var(--line)" />
                    <rect width={(100 * c.n) / most} height="10" fill="var(--slate)" fillOpacity=".55" />
                  </svg>
                </td>
                <td className="w-28 py-1 text-right tabular-nums">
                  {c.n.toLocaleString(locale)} <span className="text-soft">({Math.round((100 * c.n) / most)} %)</span>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
      {r.texts.length ? (
        <ul className="mt-1">
          {r.texts.slice(0, shownTexts).map((t, i) => (
            <li
              key={`${item.id}-${i}`}
              className="border-l-2 border-line py-0.5 pl-3 whitespace-pre-line [overflow-wrap:anywhere] [&+&]:mt-1.5"
            >
              {t}
            </li>
          ))}
        </ul>
      ) : null}
      {r.texts.length > shownTexts ? (
        <p className="mt-1 text-note text-soft">The latest {shownTexts}; all of them are in the CSV.</p>
      ) : null}
    </>
  )
}
