"use client"

import { offerOf } from "@/core/funnel/step/list"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { option, SelectField, TextArea, TextField } from "@/ui/field"
import type { SettingsOf } from "./settings"

export const Checkout: SettingsOf<"checkout"> = ({ block, offers, onChange, of }) => {
  const sold = of && offerOf(of.step)
  const bumpable = (id: number) => id !== sold && !block.bumps.some((b) => b.offer === id)
  return (
    <div className="space-y-3">
      <TextField
        label="Button text, where nothing is paid"
        value={block.says}
        maxLength={300}
        onChange={(e) => onChange({ says: e.target.value }, "says")}
        hint="Where something is paid, it says the amount."
      />
      <Check checked={block.askName} onChange={(askName) => onChange({ askName }, "askName")}>
        Ask for the first name
      </Check>
      <Check checked={block.askCoupon} onChange={(askCoupon) => onChange({ askCoupon }, "askCoupon")}>
        Take a coupon
      </Check>
      <fieldset className="min-w-0 space-y-2 border-t border-line pt-2">
        <legend className="text-label font-semibold">Order bumps: to tick, up to three</legend>
        {block.bumps.map((b, i) => (
          <div key={b.offer} className="space-y-1.5">
            <div className="flex items-end gap-2">
              <div className="min-w-0 flex-1">
                <SelectField
                  label={`Bump ${i + 1}`}
                  value={b.offer}
                  onChange={(e) =>
                    onChange(
                      {
                        bumps: block.bumps.map((x) => (x === b ? { ...x, offer: Number(e.target.value) } : x)),
                      },
                      `bump${i}`,
                    )
                  }
                >
                  {offers.filter((o) => o.id === b.offer || bumpable(o.id)).map((o) => option(o.id, o.name))}
                </SelectField>
              </div>
              <Button
                aria-label={`Take bump ${i + 1} out`}
                onClick={() => onChange({ bumps: block.bumps.filter((x) => x !== b) }, "")}
              >
                ×
              </Button>
            </div>
            <TextField
              label="Short description"
              value={b.says}
              maxLength={300}
              onChange={(e) =>
                onChange(
                  { bumps: block.bumps.map((x) => (x === b ? { ...x, says: e.target.value } : x)) },
                  `bumpsays${i}`,
                )
              }
            />
          </div>
        ))}
        {block.bumps.length < 3 && offers.some((o) => bumpable(o.id)) ? (
          <SelectField
            label="Add a bump"
            value=""
            onChange={(e) => onChange({ bumps: [...block.bumps, { offer: Number(e.target.value), says: "" }] }, "")}
          >
            <option value="" disabled>
              Choose an offer…
            </option>
            {offers.filter((o) => bumpable(o.id)).map((o) => option(o.id, o.name))}
          </SelectField>
        ) : null}
      </fieldset>
      <TextArea
        label="Consent to be written to, should they stop"
        hint="Empty: they are not asked, and not written to. The words are kept with each person's consent."
        rows={4}
        maxLength={600}
        value={block.consent}
        onChange={(e) => onChange({ consent: e.target.value }, "consent")}
      />
    </div>
  )
}
