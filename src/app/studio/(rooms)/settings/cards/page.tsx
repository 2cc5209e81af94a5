import { studio } from "@/app/door"
import { TestCards } from "./test"

export const metadata = { title: "Settings: cards" }

export default async function CardSettings() {
  const s = await studio()
  const standIn = s.config.mode !== "own"
  return (
    <div className="space-y-5">
      <h1 className="mt-4">Cards</h1>
      {s.cards ? (
        <>
          <p className="text-lg">
            {standIn ? (
              <>
                Cards are charged by the stand-in: no money moves.{" "}
                <a className="text-slate underline" href={s.cards.origin} target="_blank" rel="noreferrer">
                  Make it slow, failing or unreachable
                </a>
              </>
            ) : (
              <>Cards are charged at {s.cards.origin}.</>
            )}
          </p>
          <TestCards />
        </>
      ) : (
        <section className="space-y-2">
          <p className="text-lg">
            <strong className="text-amber-text">No card processor is connected.</strong> What is free can be taken;
            nothing can be sold for money.
          </p>
          <p>
            Your processor gives you an address, a key, and a secret that signs what it tells us. Start the school with
            them:
          </p>
          <pre className="overflow-x-auto rounded-md border border-line bg-card p-3 text-[0.9rem]">
            {"CARDS_URL=https://cards.example CARDS_KEY=… \\\n  CARDS_HOOK_SECRET=whsec_… ./heron start"}
          </pre>
          <p>
            Tell the processor to send its word to <code>{s.config.origin}/hooks/cards</code>.
          </p>
        </section>
      )}
    </div>
  )
}
