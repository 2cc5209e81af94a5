import { sizeText } from "@/core/words/size"
/** A button by which a file is taken away, with its size in bytes. */
export function TakeAway({ says, size, href }: { says: string; size: number; href: string }) {
  return (
    <p>
      <a
        className="inline-flex min-h-11 max-w-full items-center rounded-md border border-line bg-card px-4 py-2 font-semibold [overflow-wrap:anywhere]"
        href={href}
        download
      >
        Download: {says} ({sizeText(size)})
      </a>
    </p>
  )
}
