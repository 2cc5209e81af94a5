"use client"

import { useState } from "react"
import { outcomes, outcomesOf } from "@/core/funnel/step/list"
import type { ButtonTarget } from "@/core/page/block/kind"
import { isOurLink } from "@/core/page/linked"
import { SelectField, TextField } from "@/ui/field"
import { ChooseOffer } from "./choose-about"
import type { SettingsOf, SettingsProps } from "./settings"

export const ButtonBlock: SettingsOf<"button"> = ({ block, of, links, onChange }) => (
  <div className="space-y-3">
    <ChooseTarget of={of} links={links} value={block.leads} onChange={(leads) => onChange({ leads }, "leads")} />
    <TextField
      label="Text"
      value={block.says}
      maxLength={300}
      onChange={(e) => onChange({ says: e.target.value }, "says")}
    />
    <TextField
      label="A note beside it"
      value={block.note ?? ""}
      maxLength={300}
      onChange={(e) => onChange({ note: e.target.value }, "note")}
    />
  </div>
)

export const Reach: SettingsOf<"reach"> = ({ block, of, links, offers, onChange }) => {
  return (
    <div className="space-y-3">
      <p className="text-note text-soft">At the foot of a phone, once the first screen has gone by.</p>
      <ChooseTarget of={of} links={links} value={block.leads} onChange={(leads) => onChange({ leads }, "leads")} />
      <TextField
        label="Text"
        value={block.says}
        maxLength={300}
        onChange={(e) => onChange({ says: e.target.value }, "says")}
      />
      <ChooseOffer
        label="Price of"
        none="No price"
        value={block.offer}
        offers={offers}
        onChange={(offer) => onChange({ offer }, "offer")}
      />
    </div>
  )
}

/** Where a button leads: onward from the page of a step, or to what a link can lead to. */
function ChooseTarget({
  of,
  links,
  value,
  onChange,
}: {
  of: SettingsProps<"button">["of"]
  links: SettingsProps<"button">["links"]
  value: ButtonTarget | null
  onChange: (leads: ButtonTarget | null) => void
}) {
  const key = targetKey(value)
  const outside = value?.to === "link" && !isOurLink(value.href) ? value.href : null
  const [typed, setTyped] = useState(outside ?? "https://")
  const [asking, setAsking] = useState(outside !== null)
  const away = targetOf(typed.trim())
  const groups = [...new Set(links.map((l) => l.group))]
  return (
    <div className="space-y-2">
      <SelectField
        label="Leads to"
        value={asking ? "outside" : key}
        onChange={(e) => {
          setAsking(e.target.value === "outside")
          if (e.target.value !== "outside") onChange(targetOf(e.target.value))
        }}
        error={value === null && !asking ? "It leads nowhere yet." : undefined}
      >
        <option value="">Nowhere yet</option>
        {of && outcomesOf(of.step.kind).includes("joined") ? <option value="form">the form on this page</option> : null}
        {(of ? outcomesOf(of.step.kind) : [])
          .filter((o) => o !== "joined" && o !== "confirmed")
          .map((o) => (
            <option key={o} value={`outcome:${o}`}>
              onward: whoever {outcomes[o].verb}
            </option>
          ))}
        {groups.map((group) => (
          <optgroup key={group} label={group}>
            {links
              .filter((l) => l.group === group && l.href !== `step:${of?.step.id}`)
              .map((l) => (
                <option key={l.href} value={l.href}>
                  {l.name}
                </option>
              ))}
          </optgroup>
        ))}
        <option value="outside">An address outside…</option>
      </SelectField>
      {asking ? (
        <TextField
          label="Address outside"
          value={typed}
          maxLength={2000}
          error={away === null ? "Begin with https://" : undefined}
          onChange={(e) => {
            setTyped(e.target.value)
            const to = targetOf(e.target.value.trim())
            if (to) onChange(to)
          }}
        />
      ) : null}
    </div>
  )
}

function targetKey(t: ButtonTarget | null): string {
  if (!t) return ""
  if (t.to === "form") return t.to
  if (t.to === "link") return t.href
  return t.to === "step" ? `step:${t.step}` : `outcome:${t.outcome}`
}

function targetOf(key: string): ButtonTarget | null {
  const [to, what] = key.split(":")
  if (to === "form") return { to }
  if (to === "step") return { to, step: Number(what) }
  if (to === "outcome") return { to, outcome: what as "started" }
  return isOurLink(key) || /^https?:\/\/[^\s/]+\.\S+$/.test(key) ? { to: "link", href: key } : null
}
