import type { ReactNode } from "react"
import { Link } from "@/ui/link"
import { type SaveState, saveWords } from "@/ui/use-saved"

export type Neighbour = { readonly name: string; readonly note: string; readonly href: string }

/** Above a page: where it belongs and whether it is saved, what it is called, the pages beside it, and what is handed in. */
export function Bar({
  home,
  saved,
  name,
  note,
  before,
  after,
  children,
}: {
  home: { readonly says: string; readonly href: string }
  saved: SaveState
  name: string
  note: string
  before: Neighbour | undefined
  after: Neighbour | undefined
  children: ReactNode
}) {
  return (
    <div className="flex min-h-14 flex-wrap items-stretch border-b border-line bg-shallow">
      <Link href={home.href} className="flex w-52 flex-col justify-center px-5 hover:underline">
        <span className="truncate font-bold">{home.says}</span>
        <span
          role="status"
          className={`truncate text-fine ${typeof saved === "object" ? "font-semibold text-dusk" : "text-soft"}`}
          title={saveWords(saved)}
        >
          {saveWords(saved)}
        </span>
      </Link>
      <StripLink to={before} says="‹" keyName="[" />
      <div className="flex w-52 flex-col justify-center border-x border-line bg-card px-4">
        <h1 className="truncate font-sans text-lead font-bold">{name}</h1>
        <span className="truncate text-fine text-soft">{note}</span>
      </div>
      <StripLink to={after} says="›" keyName="]" />
      <div className="ml-auto flex flex-wrap items-center gap-x-3 gap-y-1 px-3 py-1 lg:pr-5">{children}</div>
    </div>
  )
}

function StripLink({ to, says, keyName }: { to: Neighbour | undefined; says: string; keyName: string }) {
  if (!to) return <div className="w-48" />
  return (
    <Link href={to.href} className="flex w-48 flex-col justify-center px-4 hover:bg-card/60">
      <span className="truncate font-semibold">
        {says === "‹" ? "‹ " : ""}
        {to.name}
        {says === "›" ? " ›" : ""}
      </span>
      <span className="text-fine text-soft">
        {to.note} <kbd className="ml-2 font-sans">{keyName}</kbd>
      </span>
    </Link>
  )
}
