"use client"

import { usePageAct } from "@/ui/act-form"
import { Button } from "@/ui/button"
import { Confirm } from "@/ui/confirm"
import { TextField } from "@/ui/field"
import { useAction } from "@/ui/use-action"
import { makeKeyAction, saveIncludeAction, savePaceAction, tryAgainAction } from "./actions"

/** What the mail provider wants in the domain's SPF record. */
export function DomainForm({ include }: { include: string }) {
  const [state, act, busy] = usePageAct(saveIncludeAction, {})
  return (
    <form action={act} className="mt-3 flex max-w-xl items-start gap-3">
      <div className="flex-1">
        <TextField
          label="Your mail provider’s part of SPF"
          name="include"
          defaultValue={include}
          placeholder="spf.mail.example"
          hint="As your provider says: a domain to include, or ip4: and an address."
          error={state.refused}
        />
      </div>
      <Button type="submit" disabled={busy} className="mt-6">
        Save
      </Button>
    </form>
  )
}

/** How fast e-mails go out. */
export function PaceForm({ perSecond, perDomain }: { perSecond: number | null; perDomain: number | null }) {
  const [state, act, busy] = usePageAct(savePaceAction, {})
  const error = (field: string) => (state.field === field ? state.refused : undefined)
  return (
    <form action={act} className="mt-3 grid grid-cols-1 max-w-2xl items-start gap-3 sm:grid-cols-[1fr_1fr_auto]">
      <TextField
        label="At most so many a second"
        name="perSecond"
        type="number"
        min={1}
        max={1000}
        defaultValue={perSecond ?? ""}
        placeholder="as fast as they go"
        error={error("perSecond")}
      />
      <TextField
        label="To one domain, a second"
        name="perDomain"
        type="number"
        min={1}
        max={1000}
        defaultValue={perDomain ?? ""}
        placeholder="as fast as they go"
        error={error("perDomain")}
      />
      <Button type="submit" disabled={busy} className="sm:mt-6">
        {state.saved ? "Saved" : "Save"}
      </Button>
    </form>
  )
}

/** Makes the key that mail is signed with; asks first where there is one. */
export function MakeKey({ signed }: { signed: boolean }) {
  const { busy, run } = useAction()
  return (
    <p className="mt-4 flex flex-wrap items-center gap-3">
      {signed ? (
        <Confirm opens="Make a new key…" title="Make a new key?" does="Make a new key" act={makeKeyAction}>
          Until its record is in the name system, signatures can’t be checked, and mail may be taken for junk.
        </Confirm>
      ) : (
        <Button look="primary" disabled={busy} onClick={() => run(makeKeyAction)}>
          Make a key, and sign mail with it
        </Button>
      )}
      <span className="text-soft">
        {signed ? "Mail is signed." : "Mail isn’t signed yet: many receivers hold that against it."}
      </span>
    </p>
  )
}

export function TryAgain({ email }: { email: string }) {
  const { busy, run } = useAction()
  return (
    <button
      type="button"
      disabled={busy}
      aria-label={`Try again: ${email}`}
      className="min-h-8 text-label text-slate hover:underline"
      onClick={() => run(() => tryAgainAction(email))}
    >
      Try again
    </button>
  )
}
