import { notFound } from "next/navigation"
import { context } from "@/app/guard"
import { readNames } from "@/standins/names/server"
import { ActForm } from "@/ui/act-form"
import { saveNameAction } from "./actions"

export const metadata = { title: "Name server stand-in" }

/** The records of the demo's domain, as they are told to whoever asks; they can be changed and broken. */
export default async function NamesPage() {
  const { config } = context()
  if (!config.nameServer) notFound()
  const names = Object.entries(await readNames(config.dataFolder))
  return (
    <main className="mx-auto max-w-3xl p-6">
      <h1>Name server stand-in</h1>
      <p className="text-soft">
        Each record is one text; two lines are two records at the same name, none is no record.
      </p>
      {[...names, ["", [] as readonly string[]] as const].map(([name, texts]) => (
        <ActForm key={name} act={saveNameAction} className="mt-5 space-y-2 border-t border-line pt-3">
          {name ? (
            <>
              <input type="hidden" name="name" value={name} />
              <strong>{name}</strong>
            </>
          ) : (
            <input
              name="name"
              aria-label="A new name"
              placeholder="A new name"
              className="w-full rounded-md border border-line bg-card px-2.5 py-1.5"
            />
          )}
          <textarea
            name="texts"
            aria-label={`Records of ${name || "the new name"}`}
            rows={Math.max(2, texts.length)}
            defaultValue={texts.join("\n")}
            className="block w-full rounded-md border border-line bg-card px-2.5 py-1.5 font-mono text-fine"
          />
          <button type="submit" className="rounded-md border border-line bg-card px-3 py-1 font-semibold">
            Set
          </button>
        </ActForm>
      ))}
    </main>
  )
}
