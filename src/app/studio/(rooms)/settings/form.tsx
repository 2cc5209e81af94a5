"use client"

import { useState } from "react"
import { currencies } from "@/core/offer/money"
import { statementFrom, statementLengths, statementProblem } from "@/core/offer/statement"
import { looks } from "@/core/page/style"
import { SelectField, TextField } from "@/ui/field"
import { saveWords, useSaved } from "@/ui/use-saved"
import { saveSchoolAction } from "./actions"

export function SettingsForm({
  school,
  processor,
  zones,
}: {
  school: {
    name: string
    sender_name: string
    sender_email: string
    postal_address: string
    zone: string
    look: string
    currency: string
    tax_rate: number
    tax_included: number
    statement: string
  }
  /** null: nothing can be sold for money. */
  processor: { origin: string; standIn: boolean } | null
  zones: readonly string[]
}) {
  const [f, set] = useState({
    name: school.name,
    senderName: school.sender_name,
    senderEmail: school.sender_email,
    postalAddress: school.postal_address,
    zone: school.zone,
    look: school.look,
    currency: school.currency,
    taxRate: String(school.tax_rate / 100),
    taxIncluded: Boolean(school.tax_included),
    statement: school.statement,
  })
  const saved = useSaved(f, async (v) => saveSchoolAction({ ...v, taxRate: basisPoints(v.taxRate) }))
  const statement = f.statement.trim() === "" ? null : statementProblem(f.statement.trim())
  const error = (field: string) => (typeof saved === "object" && saved.field === field ? saved.refused : undefined)
  const text = (key: "name" | "senderName" | "senderEmail" | "postalAddress", label: string, hint?: string) => (
    <TextField
      label={label}
      hint={hint}
      value={f[key]}
      onChange={(e) => set({ ...f, [key]: e.target.value })}
      error={error(key)}
    />
  )
  return (
    <div className="mt-4 space-y-6">
      <p role="status" className="text-[0.9rem] text-soft">
        {saveWords(saved)}
      </p>
      <section className="space-y-4">
        <h2>The school</h2>
        {text("name", "Name")}
        <SelectField
          label="Time zone"
          value={f.zone}
          onChange={(e) => set({ ...f, zone: e.target.value })}
          hint="Days in the studio begin and end here."
        >
          {(zones.includes(f.zone) ? zones : [f.zone, ...zones]).map((z) => (
            <option key={z}>{z}</option>
          ))}
        </SelectField>
        <SelectField
          label="Look of the pages"
          value={f.look}
          onChange={(e) => set({ ...f, look: e.target.value })}
          hint="Published pages change when you publish again."
        >
          {Object.entries(looks).map(([key, l]) => (
            <option key={key} value={key}>
              {l.name}
            </option>
          ))}
        </SelectField>
      </section>
      <section className="space-y-4" aria-label="Selling">
        <h2>Selling</h2>
        <TextField
          label="What a card statement shows"
          value={f.statement}
          onChange={(e) => set({ ...f, statement: e.target.value })}
          error={statement ?? error("statement")}
          hint={
            f.statement
              ? `${f.statement.trim().length} of ${statementLengths.most} characters.`
              : `Buyers know a charge by it, so that they don't ask for it back. For instance: ${statementFrom(f.name)}`
          }
        />
        <div className="grid grid-cols-3 gap-4">
          <SelectField
            label="Currency of new offers"
            value={f.currency}
            onChange={(e) => set({ ...f, currency: e.target.value })}
          >
            {currencies.map((c) => (
              <option key={c}>{c}</option>
            ))}
          </SelectField>
          <TextField
            label="Tax, %"
            inputMode="decimal"
            value={f.taxRate}
            onChange={(e) => set({ ...f, taxRate: e.target.value })}
            error={error("taxRate")}
          />
          <SelectField
            label="Prices are said"
            value={f.taxIncluded ? "with" : "without"}
            onChange={(e) => set({ ...f, taxIncluded: e.target.value === "with" })}
          >
            <option value="with">with the tax</option>
            <option value="without">without it: it is added</option>
          </SelectField>
        </div>
        <p className="text-[0.95rem]">
          {processor === null ? (
            <>
              <strong className="text-amber-text">No card processor is set up.</strong> Nothing can be sold for money
              until the server is started with <code>CARDS_URL</code>, <code>CARDS_KEY</code> and{" "}
              <code>CARDS_HOOK_SECRET</code>.
            </>
          ) : processor.standIn ? (
            <>
              Cards are charged by the stand-in.{" "}
              <a className="text-slate underline" href={processor.origin} target="_blank" rel="noreferrer">
                Make it slow, failing or unreachable
              </a>
            </>
          ) : (
            `Cards are charged at ${processor.origin}.`
          )}
        </p>
      </section>
      <section className="space-y-4">
        <h2>Sender of the e-mails</h2>
        {text("senderName", "Name")}
        {text("senderEmail", "Address")}
        {text("postalAddress", "Postal address", "It stands below each page and e-mail; in many countries it has to.")}
      </section>
    </div>
  )
}

/** A share in hundredths of a percent, or what Valibot refuses. */
function basisPoints(typed: string): number {
  return /^\d{1,3}([.,]\d{1,2})?$/.test(typed.trim())
    ? Math.round(Number(typed.trim().replace(",", ".")) * 100)
    : Number.NaN
}
