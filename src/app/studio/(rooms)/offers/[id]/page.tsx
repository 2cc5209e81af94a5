import { notFound } from "next/navigation"
import { studio } from "@/app/door"
import { checkoutPathOf } from "@/server/offer/link"
import { inputOf, loadOffers, offerRevision, piecesGone, sellingRules } from "@/server/offer/offer"
import { soldIn } from "@/server/offer/sold-in"
import { idOf } from "../../ids"
import { OfferEditor } from "./offer-editor"

export const metadata = { title: "Offer" }

export default async function OfferPage({ params }: { params: Promise<{ id: string }> }) {
  const s = await studio()
  const id = idOf((await params).id)
  const offers = await loadOffers(s.db)
  const offer = offers.get(id)
  if (!offer) notFound()
  const courses = await s.db.rows<{ id: number; title: string; state: string }>(
    "SELECT id, title, state FROM course ORDER BY title LIMIT 200",
  )
  const media = await s.db.rows<{ id: number; kind: "picture" | "video" | "file"; name: string; stored: string }>(
    "SELECT id, kind, name, stored FROM media WHERE kind <> 'video' ORDER BY id DESC LIMIT 300",
  )
  const revision = await offerRevision(s.db, id)
  const used = (await soldIn(s.db)).filter((u) => u.offer === id)
  return (
    <OfferEditor
      key={revision}
      revision={revision}
      stored={inputOf(offer)}
      offer={offer}
      gone={(await piecesGone(s.db)).get(id) ?? 0}
      rules={await sellingRules(s.db)}
      now={await s.clock.now()}
      courses={courses}
      media={media.map((m) => ({ id: m.id, kind: m.kind, name: m.name, url: `/media/${m.stored}` }))}
      offers={[...offers.values()].filter((o) => o.id !== id).map((o) => ({ id: o.id, name: o.publicName }))}
      used={used}
      link={(await checkoutPathOf(s.db, id)) ? `${s.config.origin}/get/${id}` : null}
    />
  )
}
