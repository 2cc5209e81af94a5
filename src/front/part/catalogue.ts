// What a catalogue shows, from what is in memory: each thing with the page where it can be had now, or with its waiting list.
import { type CatalogueCard, catalogueHtml } from "@/core/page/cards"
import type { Live } from "../live"
import type { PartMaker, PartOf } from "./part"

export const catalogue: PartMaker<PartOf<"catalogue">> = {
  async make({ live }, _, page, { items, consent }) {
    const cards = items.flatMap((i) => ("course" in i ? courseCard(live, i.course) : offerCard(live, i.offer)) ?? [])
    return catalogueHtml(cards, { path: page.page.path, release: page.release, consent })
  },
}

/** A course: given for an address, or sold by an offer that can be had; otherwise somebody waits for it. */
function courseCard(live: Live, id: number): CatalogueCard | null {
  const course = live.shared().listed[id]
  if (!course) return null
  const begins = live.beginnings()
  const given = course.takes ? begins.find((b) => b.gives && b.course === id) : undefined
  const sold = begins.flatMap((b) => {
    const offer = b.sells === null ? undefined : live.offers()[b.sells]
    return offer?.open && offer.courses.includes(id) ? [{ b, offer }] : []
  })[0]
  const leads = given ? { path: given.path } : sold ? { path: sold.b.path } : { wait: id }
  const amount = given ? "" : (sold?.offer.ways[0]?.amount ?? "")
  return { ...course, amount, note: given ? "" : (sold?.offer.note ?? ""), leads }
}

function offerCard(live: Live, id: number): CatalogueCard | null {
  const offer = live.offers()[id]
  if (!offer) return null
  const sold = live.beginnings().find((b) => b.sells === id)
  return {
    title: offer.name,
    about: offer.promise,
    picture: offer.picture,
    amount: offer.open && sold ? (offer.ways[0]?.amount ?? "") : "",
    note: offer.open && !sold ? "" : offer.note,
    leads: offer.open && sold ? { path: sold.path } : null,
  }
}
