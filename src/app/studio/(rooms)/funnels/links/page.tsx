import { studio } from "@/app/guard"
import { countedAs, figures } from "@/core/words/figures"
import { locale } from "@/core/words/locale"
import { linkTargets, listTrackedLinks } from "@/server/funnel/tracked-link"
import { CopyButton } from "@/ui/copy-button"
import { QrButton } from "@/ui/qr-button"
import { Table } from "@/ui/table"
import { PlaceTabs } from "../../place-tabs"
import { NewLink, RemoveLink } from "./new-link"

export const metadata = { title: "Tracked links" }

export default async function LinksPage() {
  const s = await studio()
  const [links, pages] = await Promise.all([listTrackedLinks(s), linkTargets(s.db)])
  return (
    <div className="mx-auto max-w-5xl pt-4">
      <h1>Funnels</h1>
      <PlaceTabs of="funnels" className="mt-2" />
      <p className="mt-4 text-soft">
        A link for each place where you put it, so that you see who came from where. A link of your own with{" "}
        <code>?src=</code> or <code>?ref=</code> and a name counts, too.
      </p>
      {pages.length ? (
        <NewLink pages={pages} />
      ) : (
        <p className="mt-4">Make a funnel first: a link leads to its page.</p>
      )}
      {links.length ? (
        <>
          <Table
            className="mt-5 min-w-[50rem] table-fixed"
            columns={[
              { says: "Source", wide: "w-48" },
              { says: "Link" },
              { says: figures.visited.name, wide: "w-20", right: true },
              { says: <span className="sr-only">Use it</span>, wide: "w-72", key: "use" },
            ]}
          >
            {links.map((l) => (
              <tr key={l.id} className="border-b border-line align-top">
                <td className="py-2 pr-3 font-semibold [overflow-wrap:anywhere]">
                  <bdi>{l.source}</bdi>
                </td>
                <td className="py-2 pr-3 [overflow-wrap:anywhere]">
                  <span className="block">{l.url}</span>
                  <span className="text-label text-soft">
                    {l.page} ({l.funnel}){l.live ? "" : ", not live"}
                  </span>
                </td>
                <td className="py-2 text-right tabular-nums">{l.visited.toLocaleString(locale)}</td>
                <td className="py-1">
                  <span className="flex justify-end gap-2">
                    <CopyButton text={l.url} label={`Copy the link for ${l.source}`} />
                    <QrButton url={l.url} drawnAt="/studio/funnels/links/qr" />
                    <RemoveLink link={l.id} name={l.source} />
                  </span>
                </td>
              </tr>
            ))}
          </Table>
          <p className="mt-3 text-note text-soft">Since the beginning. {countedAs(["visited"])}</p>
        </>
      ) : null}
    </div>
  )
}
