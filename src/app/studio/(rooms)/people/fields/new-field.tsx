"use client"

import { fieldKinds } from "@/core/person/field"
import { usePageAct } from "@/ui/act-form"
import { Button } from "@/ui/button"
import { option, SelectField, TextField } from "@/ui/field"
import { OnceField } from "@/ui/once"
import { newFieldAction } from "./actions"
import { kindWords } from "./words"

/** One more thing to know of people. */
export function NewField() {
  const [told, act, busy] = usePageAct(newFieldAction, {})
  return (
    <form
      action={act}
      className="mt-3 grid grid-cols-1 max-w-2xl items-start gap-3 sm:grid-cols-[minmax(0,1fr)_13rem_auto]"
    >
      <OnceField told={told} />
      <TextField
        label="New field"
        name="label"
        required
        maxLength={60}
        placeholder="Where do you ferment?"
        hint="Forms ask it in these words."
        error={told.refused}
      />
      <SelectField label="Answered with" name="kind" defaultValue="text">
        {fieldKinds.map((k) => option(k, kindWords[k]))}
      </SelectField>
      <Button type="submit" className="sm:mt-6" disabled={busy}>
        Make it
      </Button>
    </form>
  )
}
