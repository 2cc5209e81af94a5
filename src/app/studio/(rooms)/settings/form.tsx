"use client"

import { currencies } from "@/core/offer/money"
import { statementFrom, statementLengths, statementProblem } from "@/core/offer/statement"
import type { SchoolInput } from "@/server/school"
import { Clash } from "@/ui/clash"
import { option, SelectField, TextField } from "@/ui/field"
import { saveWords } from "@/ui/use-saved"
import { useShared, type Versioned } from "@/ui/use-shared"
import { saveSchoolAction } from "./actions"

const labels: Readonly<Record<string, string>> = {
  name: "Name",
  senderName: "Sender's name",
  senderEmail: "Sender's address",
  postalAddress: "Postal address",
  zone: "Time zone",
  currency: "Currency of new offers",
  taxRate: "Tax",
  taxIncluded: "Prices are shown",
  statement: "What a card statement shows",
  front: "What stands at your address",
}

export function SettingsForm({
  school,
  zones,
  funnels,
}: {
  school: Versioned<SchoolInput>
  zones: readonly string[]
  /** Those that are live. */
  funnels: readonly { readonly id: number; readonly name: string }[]
}) {
  const {
    value: f,
    set,
    saved,
    clash,
  } = useShared({ revision: school.revision, value: typedOf(school.value) }, async (v, before) => {
    const wire = (x: Typed) => ({ ...x, taxRate: basisPoints(x.taxRate) })
    const done = await saveSchoolAction(wire(v), { revision: before.revision, value: wire(before.value) })
    if ("refused" in done) return done
    return "clash" in done
      ? { ...done, theirs: typedOf(done.theirs) }
      : { revision: done.revision, value: typedOf(done.value) }
  })
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
      <p role="status" className="text-note text-soft">
        {saveWords(saved)}
      </p>
      <Clash clash={clash} labels={labels} />
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
      </section>
      <section className="space-y-4">
        <h2>Front page</h2>
        <SelectField
          label="What stands at your address"
          value={f.front ?? ""}
          onChange={(e) => set({ ...f, front: Number(e.target.value) || null })}
          hint={
            <>
              <a href="/" className="text-slate underline">
                See it
              </a>
              . Made from what is live, it shows who teaches, what is given away, the next webinars and the courses.
            </>
          }
        >
          <option value="">A front page made from what is live</option>
          {funnels.map((x) => option(x.id, `The first page of “${x.name}”`))}
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
        <div className="grid grid-cols-1 gap-4 sm:grid-cols-3 sm:gap-4">
          <SelectField
            label="Currency of new offers"
            value={f.currency}
            onChange={(e) => set({ ...f, currency: e.target.value as SchoolInput["currency"] })}
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
            label="Prices are shown"
            value={f.taxIncluded ? "with" : "without"}
            onChange={(e) => set({ ...f, taxIncluded: e.target.value === "with" })}
          >
            <option value="with">with tax</option>
            <option value="without">without tax: it is added</option>
          </SelectField>
        </div>
      </section>
      <section className="space-y-4">
        <h2>Sender of the e-mails</h2>
        {text("senderName", "Name")}
        {text("senderEmail", "Address")}
        {text("postalAddress", "Postal address", "Shown below each page and e-mail; in many countries it has to be.")}
      </section>
    </div>
  )
}

type Typed = Omit<SchoolInput, "taxRate"> & { readonly taxRate: string }

const typedOf = (school: SchoolInput): Typed => ({ ...school, taxRate: String(school.taxRate / 100) })

/** A percentage in hundredths, or what is refused with a word of what is wanted. */
function basisPoints(typed: string): number {
  return /^\d{1,3}([.,]\d{1,2})?$/.test(typed.trim())
    ? Math.round(Number(typed.trim().replace(",", ".")) * 100)
    : Number.NaN
}
