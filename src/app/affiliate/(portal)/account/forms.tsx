"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import type { Bonus } from "@/server/affiliate/bonus"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { binder, Field, option, TextArea, TextField } from "@/ui/field"
import { useAction } from "@/ui/use-action"
import { aboutMeAction, bankAction, bonusAction, type Done } from "../../actions"

export function BankForm(first: { holder: string; postal: string; taxNumber: string; bic: string }) {
  const [f, set] = useState({ ...first, iban: "" })
  const [sent, setSent] = useState(false)
  const { busy, answer: done, run } = useAction()
  const error = (field: string) => (done.field === field ? done.refused : undefined)
  const typed = binder(f, set, error)
  return (
    <form
      className="mt-3 space-y-3"
      onSubmit={(e) => {
        e.preventDefault()
        run(
          () => bankAction(f),
          () => setSent(true),
        )
      }}
    >
      <TextField label="Account holder" autoComplete="name" {...typed("holder")} />
      <TextField
        label="Account number (IBAN)"
        {...typed("iban")}
        autoComplete="off"
        hint="Spaces don't matter. It is checked before it is taken."
      />
      <TextField label="BIC, if your bank asks for it" {...typed("bic")} autoComplete="off" />
      <TextArea label="Postal address, for your statements" rows={3} {...typed("postal")} />
      <TextField label="Tax number, if you have one" {...typed("taxNumber")} autoComplete="off" />
      <Button type="submit" look="primary" className="min-h-11 w-full sm:w-auto" disabled={busy}>
        Send me the e-mail that confirms it
      </Button>
      {sent && !done.refused ? (
        <p role="status">Look into your mailbox: it counts once you have pressed the button there.</p>
      ) : null}
      {done.refused && !done.field ? (
        <p role="alert" className="font-semibold">
          {done.refused}
        </p>
      ) : null}
    </form>
  )
}

/** `now`: the name that pages show, where another one waits for the school's yes. */
export function AboutMe({ now, ...first }: { now: string; name: string; shown: boolean; code: string }) {
  const [f, set] = useState(first)
  const [done, setDone] = useState<Done>({})
  const [busy, start] = useTransition()
  const error = (field: string) => (done.field === field ? done.refused : undefined)
  const typed = binder(f, set, error)
  return (
    <form
      className="mt-2 space-y-3"
      onSubmit={(e) => {
        e.preventDefault()
        start(async () => setDone(await aboutMeAction(f)))
      }}
    >
      <TextField
        label="Your public name"
        {...typed("name")}
        hint={
          f.name === now
            ? undefined
            : `The school says yes or no to a new name. Until then its pages call you “${now}”.`
        }
      />
      <TextField label="Your word in links" {...typed("code")} hint="Links you gave out before go on working." />
      <Check checked={f.shown} onChange={(shown) => set({ ...f, shown })}>
        Whoever comes by my link reads “Recommended by {f.name}”
      </Check>
      <Button type="submit" className="min-h-11" disabled={busy}>
        Save
      </Button>
      {done.done ? <p role="status">Saved.</p> : null}
    </form>
  )
}

/** What whoever buys through them gets as well: chosen from what the school allows, or a file of their own. */
export function Bonuses({
  all,
  programmes,
}: {
  all: readonly (Bonus & { chosen: boolean })[]
  programmes: readonly { id: number; name: string }[]
}) {
  const [busy, start] = useTransition()
  const [refused, setRefused] = useState("")
  const router = useRouter()
  return (
    <>
      <p className="mt-1">Whoever buys through you gets this as well.</p>
      <ul className="mt-2 space-y-2">
        {all.map((b) => (
          <li key={b.id}>
            {b.state === "allowed" ? (
              <Check
                checked={b.chosen}
                onChange={(on) =>
                  start(async () => {
                    setRefused((await bonusAction(b.id, on)).refused ?? "")
                    router.refresh()
                  })
                }
              >
                {b.name}
              </Check>
            ) : (
              <span>
                {b.name}:{" "}
                <strong>
                  {{ asked: "waits to be approved", approved: "approved", refused: "not approved" }[b.state]}
                </strong>
              </span>
            )}
          </li>
        ))}
      </ul>
      {programmes.length ? (
        <form
          className="mt-3"
          onSubmit={(e) => {
            e.preventDefault()
            const form = e.currentTarget
            start(async () => {
              const file = new FormData(form).get("file")
              const to = new FormData(form).get("programme")
              if (!(file instanceof File) || !file.size) return
              const answer = await fetch(`/affiliate/bonus?programme=${to}&name=${encodeURIComponent(file.name)}`, {
                method: "POST",
                body: file,
              }).catch(() => null)
              const said = ((await answer?.json().catch(() => null)) ?? {}) as { refused?: string }
              setRefused(said.refused ?? (answer?.ok ? "" : "That could not be sent up."))
              if (answer?.ok) form.reset()
              router.refresh()
            })
          }}
        >
          <Field label="Or a file of your own, at most 20 MB" hint="Such as a PDF. The school looks at it first.">
            {(p) => <input {...p} type="file" name="file" required />}
          </Field>
          {programmes.length > 1 ? (
            <Field label="For whoever buys">
              {(p) => (
                <select {...p} name="programme">
                  {programmes.map((x) => option(x.id, x.name))}
                </select>
              )}
            </Field>
          ) : (
            <input type="hidden" name="programme" value={programmes[0]!.id} />
          )}
          <Button type="submit" className="mt-2 min-h-11" disabled={busy}>
            Hand it in
          </Button>
        </form>
      ) : null}
      {refused ? (
        <p role="alert" className="mt-2 font-semibold">
          {refused}
        </p>
      ) : null}
    </>
  )
}
