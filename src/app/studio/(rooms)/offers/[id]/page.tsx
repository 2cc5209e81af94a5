import { notFound } from "next/navigation"
import { studio } from "@/app/door"
import { courseNames } from "@/server/course/course-view"
import { mediaNames } from "@/server/media/media-view"
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
  const media = (await mediaNames(s.db, s.config)).filter((m) => m.kind !== "video")
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
      courses={await courseNames(s.db)}
      media={media}
      offers={[...offers.values()].filter((o) => o.id !== id).map((o) => ({ id: o.id, name: o.publicName }))}
      used={used}
      link={(await checkoutPathOf(s.db, id)) ? `${s.config.origin}/get/${id}` : null}
    />
  )
}
