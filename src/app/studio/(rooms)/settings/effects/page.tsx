import { studio } from "@/app/door"
import { effectChoices, listEffects } from "@/server/funnel/effects-view"
import { effectsAbout } from "@/server/funnel/occasion"
import { Link } from "@/ui/link"
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
        <div className="overflow-x-auto">
          <table className="mt-2 w-full min-w-[34rem] table-fixed text-left">
            <thead className="text-[0.87rem] text-soft">
              <tr className="border-b border-line">
                <th className="py-1.5 font-semibold">When somebody</th>
                <th className="w-44 font-semibold">Where</th>
                <th className="w-56 font-semibold">This happens</th>
              </tr>
            </thead>
            <tbody>
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
            </tbody>
          </table>
        </div>
      )}
    </>
  )
}
