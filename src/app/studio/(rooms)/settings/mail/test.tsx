"use client"

import { useState, useTransition } from "react"
import { locale } from "@/core/words/locale"
import { Button } from "@/ui/button"
import { useAction } from "@/ui/use-action"
import { sendTestAction, tryAgainAction } from "../actions"

/** Sends a test to whoever is signed in, and says what the server answered. */
export function SendTest({ ready }: { ready: boolean }) {
  const [said, setSaid] = useState<{ good: boolean; words: string } | null>(null)
  const [busy, start] = useTransition()
  const send = () =>
    start(async () => {
      const done = await sendTestAction()
      setSaid(
        "sent" in done
          ? {
              good: true,
              words: `The server took it. Look into the inbox of ${done.sent}; if it isn't there, look into the spam folder.`,
            }
          : { good: false, words: done.refused },
      )
    })
  return (
    <div>
      <Button look="primary" disabled={busy || !ready} onClick={send}>
        {busy ? "Sending…" : "Send me a test"}
      </Button>
      {ready ? null : <span className="ml-3 text-soft">Once a mail server is connected.</span>}
      {said ? (
        <p role="status" className={`mt-2 font-semibold ${said.good ? "text-reed" : "text-dusk"}`}>
          {said.words}
        </p>
      ) : null}
    </div>
  )
}

export function TryAgain({ waiting, ready }: { waiting: number; ready: boolean }) {
  const { busy, run } = useAction()
  return (
    <p className="flex flex-wrap items-center gap-3">
      {waiting === 1
        ? "One e-mail waits for another try."
        : `${waiting.toLocaleString(locale)} e-mails wait for another try.`}
      <Button disabled={busy || !ready} onClick={() => run(() => tryAgainAction())}>
        Try again now
      </Button>
    </p>
  )
}
