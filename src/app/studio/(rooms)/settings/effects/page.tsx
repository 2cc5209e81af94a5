import { studio } from "@/app/door"
import { effectChoices, listEffects } from "@/server/funnel/effects-view"
import { effectsAbout } from "@/server/funnel/occasion"
import { Link } from "@/ui/link"
import { Table } from "@/ui/table"
import { SetsOff } from "../../sets-off"

export const metadata = { title: "Effects" }

/** Everything that is set off anywhere, in one list. */
export default async function EffectsPage() {
  const s = await studio()
  const effects = await listEffects(s.db)
  return (
    <>
      <h1 className="mt-4">Effects</h1>
      <p className="mt-1 text-soft">
        Everything that happens by itself, and what sets it off. Each is changed where it hangs: at a step of a funnel,
        an offer, a lesson, a tag or a sequence.
      </p>
      <SetsOff
        of={0}
        name=""
        title="Anywhere in the school"
        on={await effectsAbout(s.db, null, 0)}
        choices={await effectChoices(s.db)}
      />
      <h2 className="mt-6">All of them</h2>
      {effects.length === 0 ? (
        <p className="mt-1 text-soft">Nothing is set off yet. A new funnel brings its own.</p>
      ) : (
        <Table
          className="mt-2 min-w-[34rem] table-fixed"
          columns={[{ says: "When somebody" }, { says: "Where", wide: "w-44" }, { says: "This happens", wide: "w-56" }]}
        >
          {effects.map((e) => (
            <tr key={e.id} className="border-b border-line align-top">
              <td className="py-1.5 pr-3 [overflow-wrap:anywhere]">{e.when}</td>
              <td className="py-1.5 pr-3 [overflow-wrap:anywhere]">
                <Link className="text-slate hover:underline" href={e.href}>
                  {e.where}
                </Link>
              </td>
              <td className="py-1.5 [overflow-wrap:anywhere]">{e.does}</td>
            </tr>
          ))}
        </Table>
      )}
    </>
  )
}
