import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { courseNames } from "@/server/course/course-view"
import { effectChoices } from "@/server/funnel/effects-view"
import { effectsAbout } from "@/server/funnel/occasion"
import { mediaNames } from "@/server/media/media-view"
import { checkoutPathOf } from "@/server/offer/link"
import { loadOffers, offerRevision, piecesGone, sellingRules, typedOffer } from "@/server/offer/offer"
import { usesOf } from "@/server/reference"
import { idOf } from "../../asked"
import { SetsOff } from "../../sets-off"
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
  const uses = await usesOf(s.db, "offer", id)
  return (
    <>
      <OfferEditor
        key={revision}
        revision={revision}
        stored={typedOffer(offer)}
        offer={offer}
        gone={(await piecesGone(s.db)).get(id) ?? 0}
        rules={await sellingRules(s.db)}
        now={await s.clock.now()}
        courses={await courseNames(s.db)}
        media={media}
        offers={[...offers.values()].filter((o) => o.id !== id).map((o) => ({ id: o.id, name: o.publicName }))}
        link={(await checkoutPathOf(s.db, id)) ? `${s.config.origin}/get/${id}` : null}
        used={uses}
      />
      <div className="max-w-3xl">
        <SetsOff
          of={id}
          name={`“${offer.publicName}”`}
          on={await effectsAbout(s.db, "offer", id)}
          choices={await effectChoices(s.db)}
        />
      </div>
    </>
  )
}
