"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import { Button } from "@/ui/button"
import { Confirm } from "@/ui/confirm"
import { binder, TextField } from "@/ui/field"
import { connectAction, disconnectAction, tryConnectionAction } from "../actions"

const words = {
  cards: {
    tried: "The processor charged one test card, and gave it back.",
    connected: "Connected: one test card was charged and given back.",
    example: "https://cards.example",
    disconnect: "Disconnect the processor",
    follows:
      "From then on every order is a test: nobody’s card is charged, and whoever orders gets in all the same. What was charged before can’t be given back until it is connected again.",
  },
  meeting: {
    tried: "The service began a room, and ended it.",
    connected: "Connected: a room was begun and ended.",
    example: "https://rooms.example",
    disconnect: "Disconnect the meeting service",
    follows: "From then on webinars begin in a room of the stand-in, in which nobody can be seen or heard.",
  },
} as const

type Said = { readonly good: boolean; readonly words: string; readonly field?: string; readonly anyway?: boolean }

/** Tries what is connected, and connects something else. `now`: by what it is connected. */
export function Connect({
  what,
  now,
  webhooks,
}: {
  what: "cards" | "meeting"
  now: "environment" | "settings" | "stand-in" | null
  /** Where the processor is to send its word. */
  webhooks?: string
}) {
  const router = useRouter()
  const [busy, start] = useTransition()
  const [said, setSaid] = useState<Said | null>(null)
  const [f, set] = useState({ url: "", key: "", hookSecret: "" })
  const w = words[what]
  const error = (field: string) => (said && !said.good && said.field === field ? said.words : undefined)
  const tell = ({ refused, ...more }: { refused?: string; field?: string; anyway?: boolean }, good: string) =>
    setSaid(refused ? { good: false, words: refused, ...more } : { good: true, words: good })
  const connect = (anyway: boolean) =>
    start(async () => {
      const done = await connectAction(what, f, anyway)
      tell(done, w.connected)
      if (done.refused) return
      set({ url: "", key: "", hookSecret: "" })
      router.refresh()
    })
  const typed = binder(f, set, error)
  return (
    <>
      {now ? (
        <div className="flex flex-wrap gap-2">
          <Button
            disabled={busy}
            onClick={() =>
              start(async () => {
                const done = await tryConnectionAction(what)
                tell("refused" in done ? done : {}, w.tried)
              })
            }
          >
            {busy ? "Trying…" : "Try it"}
          </Button>
          {now === "settings" ? (
            <Confirm
              opens="Disconnect…"
              title={w.disconnect}
              does="Disconnect"
              act={() => disconnectAction(what)}
              then={() => setSaid(null)}
            >
              {w.follows}
            </Confirm>
          ) : null}
        </div>
      ) : null}
      {said && !said.field ? (
        <p role="status" className={`font-semibold ${said.good ? "text-reed" : "text-dusk"}`}>
          {said.words}
        </p>
      ) : null}
      {said?.anyway ? (
        <p>
          <Button disabled={busy} onClick={() => connect(true)}>
            Connect it anyway
          </Button>
        </p>
      ) : null}
      {now === "environment" ? null : (
        <details className="border-t border-line pt-3">
          <summary className="text-slate">{now === "settings" ? "Connect another one" : "Connect yours"}</summary>
          <form
            className="mt-3 grid max-w-xl gap-3"
            onSubmit={(e) => {
              e.preventDefault()
              connect(false)
            }}
          >
            <TextField label="Address" {...typed("url")} placeholder={w.example} required />
            <TextField label="Key" type="password" autoComplete="off" {...typed("key")} required />
            {webhooks ? (
              <>
                <TextField
                  label="Webhook secret"
                  type="password"
                  autoComplete="off"
                  {...typed("hookSecret")}
                  placeholder="whsec_…"
                  required
                />
                <p className="text-body text-soft">
                  Have the processor send its webhooks to <code>{webhooks}</code>.
                </p>
              </>
            ) : null}
            <p>
              <Button type="submit" look="primary" disabled={busy}>
                {busy ? "Trying…" : "Try and connect"}
              </Button>
            </p>
          </form>
        </details>
      )}
    </>
  )
}
