import { studio } from "@/app/guard"
import { locale } from "@/core/words/locale"
import { connectionsOf } from "@/server/ledger/connect"
import { countTestOrders } from "@/server/ledger/test-orders"
import { Connect } from "./connect"

export const metadata = { title: "Settings: cards and meetings" }

export default async function ConnectionSettings() {
  const s = await studio()
  const { cards, meeting } = connectionsOf(s)
  const tests = await countTestOrders(s.db)
  return (
    <div className="space-y-8">
      <h1 className="mt-4">Cards and meetings</h1>
      <section aria-label="Card processor" className="space-y-3">
        <h2>Card processor</h2>
        {cards === null ? (
          <p className="text-lg">
            <strong className="text-amber-text">No card processor is connected.</strong> What is free can be taken;
            nothing can be sold for money.
          </p>
        ) : cards.by === "stand-in" ? (
          <p className="text-lg">
            <strong className="text-amber-text">Test: no money moves.</strong> Cards are charged by the stand-in, so
            that everything can be tried.{" "}
            {s.config.mode === "own"
              ? "What is ordered now is marked as a test, and is taken out of the ledger once you connect your processor."
              : null}{" "}
            <a className="text-slate underline" href={cards.url} target="_blank" rel="noreferrer">
              Make it slow, failing or unreachable
            </a>
          </p>
        ) : (
          <p className="text-lg">
            <strong className="text-reed">Connected.</strong> Cards are charged at {cards.url}
            {cards.by === "environment" ? ", as the start command says" : ""}.
          </p>
        )}
        {tests ? (
          <p>{tests === 1 ? "One test order is" : `${tests.toLocaleString(locale)} test orders are`} in the ledger.</p>
        ) : null}
        <Connect what="cards" now={cards?.by ?? null} webhooks={`${s.config.origin}/hooks/cards`} />
      </section>
      <section aria-label="Meeting service" className="space-y-3">
        <h2>Meeting service</h2>
        {meeting === null ? (
          <p className="text-lg">
            <strong className="text-amber-text">No meeting service is connected.</strong> Webinars can play a recording;
            none can be held live.
          </p>
        ) : meeting.by === "stand-in" ? (
          <p className="text-lg">
            <strong className="text-amber-text">Test: a film plays.</strong> Live rooms show a film of the stand-in, so
            that everything can be tried.
          </p>
        ) : (
          <p className="text-lg">
            <strong className="text-reed">Connected.</strong> Live rooms are carried by {meeting.url}
            {meeting.by === "environment" ? ", as the start command says" : ""}.
          </p>
        )}
        <Connect what="meeting" now={meeting?.by ?? null} />
      </section>
    </div>
  )
}
