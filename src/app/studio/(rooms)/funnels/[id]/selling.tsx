"use client"
import { useState } from "react"
import type { Step } from "@/core/funnel/draft"
import { soldAt } from "@/core/funnel/step/list"
import { Button } from "@/ui/button"
import { option, SelectField } from "@/ui/field"
import { useAction } from "@/ui/use-action"
import { changeSellingAction } from "../actions"
import type { Choices } from "./workspace"

/** What a checkout or a further offer sells, in a line; and where that is changed. */
export function Selling({ step, offers }: { step: Step; offers: Choices["offers"] }) {
  const sold = soldAt(step)
  const offer = offers.find((o) => o.id === sold?.offer)
  const way = offer?.ways.find((w) => w.id === sold?.terms) ?? offer?.ways[0]
  const [open, setOpen] = useState(false)
  return (
    <div className="mt-2 text-body">
      <p>
        {offer ? (
          <>
            Sells{" "}
            <a className="font-semibold text-slate hover:underline" href={`/studio/offers/${offer.id}`}>
              {offer.name}
            </a>
            . {sold?.as === "more" || offer.ways.length === 1 ? way?.says : `${offer.ways.length} ways to pay.`}{" "}
          </>
        ) : (
          <span className="text-amber-text">Sells nothing yet. </span>
        )}
        <button
          type="button"
          className="text-slate hover:underline"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
        >
          {open ? "Close" : "Change"}
        </button>
      </p>
      {open ? <SellingForm step={step} offers={offers} onDone={() => setOpen(false)} /> : null}
    </div>
  )
}

function SellingForm({ step, offers, onDone }: { step: Step; offers: Choices["offers"]; onDone: () => void }) {
  const sold = soldAt(step)!
  const [f, set] = useState({
    offer: sold.offer ?? offers[0]?.id ?? 0,
    terms: sold.terms,
    replaces: sold.replaces,
    skipAs: sold.skipAs,
  })
  const { busy, refused, run } = useAction()
  const further = sold.as === "more"
  const ways = offers.find((o) => o.id === f.offer)?.ways ?? []
  return (
    <form
      className="mt-2 grid grid-cols-2 gap-3 rounded-md border border-line p-3"
      onSubmit={(e) => {
        e.preventDefault()
        run(() => changeSellingAction({ ...f, step: step.id }), onDone)
      }}
    >
      <SelectField
        label="Offer"
        value={f.offer}
        onChange={(e) => set({ ...f, offer: Number(e.target.value), terms: null })}
      >
        {offers.map((o) => option(o.id, o.name))}
      </SelectField>
      {further ? (
        <>
          <SelectField
            label="Terms"
            value={f.terms ?? ""}
            onChange={(e) => set({ ...f, terms: Number(e.target.value) || null })}
          >
            <option value="">the offer's first way: {ways[0]?.says}</option>
            {ways.slice(1).map((w) => option(w.id, w.name || w.says))}
          </SelectField>
          <SelectField
            label="Added to what was bought, or in its place"
            value={f.replaces ? "1" : ""}
            onChange={(e) => set({ ...f, replaces: e.target.value === "1" })}
          >
            <option value="">Added to it</option>
            <option value="1">In its place: what was paid counts</option>
          </SelectField>
          <SelectField
            label="Those who can't have it go on as if they had"
            value={f.skipAs}
            onChange={(e) => set({ ...f, skipAs: e.target.value as "accepted" })}
            hint="They have it already, it is sold out, or over."
          >
            <option value="accepted">Accepted</option>
            <option value="declined">Declined</option>
          </SelectField>
        </>
      ) : null}
      <div className="col-span-2 flex items-center gap-3">
        <Button type="submit" look="primary" disabled={busy}>
          Sell this
        </Button>
        {refused ? (
          <span role="alert" className="font-semibold text-dusk">
            {refused}
          </span>
        ) : null}
      </div>
    </form>
  )
}
