import { studio } from "@/app/guard"
import { locale } from "@/core/words/locale"
import { noticesWithWhy } from "@/server/notice/notice-view"
import { Link } from "@/ui/link"
import { NewByName } from "@/ui/new-by-name"
import { Table } from "@/ui/table"
import { PlaceTabs } from "../../place-tabs"
import { newNoticeAction } from "../actions"
import { hiddenWords, placeWords } from "./words"

export const metadata = { title: "Notices" }

export default async function NoticesPage() {
  const all = await noticesWithWhy(await studio())
  return (
    <div className="mx-auto max-w-4xl pt-4">
      <h1>Courses</h1>
      <PlaceTabs of="courses" className="mt-2" />
      <p className="mt-4 text-soft">
        A few words with one button, for learners whom it concerns: an offer, a date, the next course.
      </p>
      <NewByName
        says="New notice"
        label="What it says first"
        field="title"
        maxLength={160}
        open={all.length === 0}
        act={newNoticeAction}
      />
      {all.length ? (
        <Table
          className="mt-6 min-w-[40rem]"
          columns={[
            { says: "Notice" },
            { says: "Where" },
            { says: "Times seen", right: true },
            { says: "By people", right: true },
            { says: "Pressed", right: true },
          ]}
        >
          {all.map((n) => (
            <tr key={n.id} className="border-b border-line align-baseline">
              <td className="max-w-80 py-2.5">
                <Link
                  href={`/studio/courses/notices/${n.id}`}
                  className="font-semibold [overflow-wrap:anywhere] text-slate hover:underline"
                >
                  {n.title}
                </Link>{" "}
                {n.live ? (
                  <span className="rounded-full bg-reed-wash px-2 py-0.5 text-label text-reed">On</span>
                ) : (
                  <span className="text-soft">Off</span>
                )}
                {n.live && n.hidden ? (
                  <span className="block text-note font-semibold text-amber-text">{hiddenWords[n.hidden]}</span>
                ) : null}
              </td>
              <td className="text-soft">{placeWords[n.place]}</td>
              <td className="text-right">{n.seen.toLocaleString(locale)}</td>
              <td className="text-right">{n.people.toLocaleString(locale)}</td>
              <td className="text-right">{n.pressed.toLocaleString(locale)}</td>
            </tr>
          ))}
        </Table>
      ) : null}
    </div>
  )
}
