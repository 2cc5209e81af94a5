import { studio } from "@/app/guard"
import { listKept } from "@/server/page/kept"
import { NameLink } from "@/ui/link"
import { Table } from "@/ui/table"
import { PlaceTabs } from "../../place-tabs"
import { RemoveSection } from "./remove-section"

export const metadata = { title: "Kept sections" }

export default async function SectionsPage() {
  const sections = await listKept((await studio()).db)
  return (
    <div className="mx-auto max-w-5xl pt-4">
      <h1>Funnels</h1>
      <PlaceTabs of="funnels" className="mt-2" />
      <p className="mt-4 max-w-prose text-soft">
        A section that stands on several pages, a guarantee for one, is written once and changes wherever it stands.
        Keep one from a page: choose its parts, and press Keep for other pages.
      </p>
      {sections.length ? (
        <Table
          className="mt-5 table-fixed"
          columns={[
            { says: "Name" },
            { says: "Stands on", wide: "w-36" },
            { says: "State", wide: "w-52" },
            { says: <span className="sr-only">Remove it</span>, wide: "w-28", key: "remove" },
          ]}
        >
          {sections.map((x) => (
            <tr key={x.id} className="border-b border-line">
              <td className="py-2 pr-3 [overflow-wrap:anywhere]">
                <NameLink href={`/studio/funnels/sections/${x.id}`}>{x.name}</NameLink>
              </td>
              <td className="py-2">{x.stands === 1 ? "1 page" : `${x.stands} pages`}</td>
              <td className="py-2">{x.changed ? "Changed, not published" : "As pages show it"}</td>
              <td className="py-1 text-right">{x.stands ? null : <RemoveSection id={x.id} name={x.name} />}</td>
            </tr>
          ))}
        </Table>
      ) : (
        <p className="mt-5">None is kept yet.</p>
      )}
    </div>
  )
}
