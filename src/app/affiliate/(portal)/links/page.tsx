import type { Metadata } from "next"
import { activeAffiliateHere, context } from "@/app/guard"
import { shortLink } from "@/core/affiliate/code"
import { couponsOf, partsFor, portalLinks, targetsFor } from "@/server/affiliate/portal"
import { CopyButton } from "@/ui/copy-button"
import { QrButton } from "@/ui/qr-button"
import { MakeLink, RemoveLink } from "./make-link"

export const metadata: Metadata = { title: "Links" }

export default async function LinksPage() {
  const a = await activeAffiliateHere()
  const s = context()
  const now = await s.clock.now()
  const own = shortLink(s.config.origin, { code: a.code, sub: "" })
  const coupons = await couponsOf(s.db, a.id, now)
  const links = await portalLinks(s, a, now)
  return (
    <>
      <h1>Your links</h1>
      <section aria-label="Your own link" className="mt-3">
        <h2>Your own link</h2>
        <LinkRow url={own} />
        {coupons.length ? (
          <p className="mt-2">
            Your coupon{coupons.length > 1 ? "s" : ""}: <strong className="tabular-nums">{coupons.join(", ")}</strong>.
            Whoever types it at the checkout counts for you, with or without a link.
          </p>
        ) : null}
      </section>
      <section aria-label="Make a link" className="mt-8">
        <h2>Make a link</h2>
        <MakeLink targets={await targetsFor(s, await partsFor(s.db, a.id, now))} />
      </section>
      {links.length ? (
        <section aria-label="Links you made" className="mt-8">
          <h2>Links you made</h2>
          <ul className="mt-1">
            {links.map((l) => (
              <li key={l.id} className="border-t border-line py-3">
                <p className="flex flex-wrap items-baseline justify-between gap-x-4">
                  <strong className="[overflow-wrap:anywhere]">{l.sub || "without a name"}</strong>
                  <span className="text-body text-soft">
                    {l.live
                      ? `leads to ${l.leads}`
                      : `${l.leads} is not there just now: it leads to the next best page`}
                  </span>
                </p>
                <LinkRow url={l.url} />
                {l.sub ? <LinkRow url={l.short} /> : null}
                <RemoveLink link={l.id} name={l.sub || "without a name"} />
              </li>
            ))}
          </ul>
        </section>
      ) : null}
    </>
  )
}

function LinkRow({ url }: { url: string }) {
  return (
    <p className="mt-1.5 flex flex-wrap items-center gap-2">
      <code className="min-w-0 flex-1 basis-52 text-note [overflow-wrap:anywhere]">{url}</code>
      <CopyButton text={url} label={`Copy ${url}`} />
      <QrButton url={url} drawnAt="/affiliate/qr" />
    </p>
  )
}
