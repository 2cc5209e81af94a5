import type { Ready } from "@/server/affiliate/portal"
import { Button } from "@/ui/button"
import { CopyButton } from "@/ui/copy-button"

/** Words to copy and pictures to take away, each with the link in it. */
export function ReadyToUse({ all }: { all: readonly Ready[] }) {
  if (!all.length) return <p className="mt-1">There is nothing yet: your own words do best anyway.</p>
  return (
    <ul className="mt-1">
      {all.map((m) => (
        <li key={m.id} className="border-t border-line py-3">
          <strong className="[overflow-wrap:anywhere]">{m.title}</strong>
          {m.stored ? (
            <>
              <img src={`/media/${m.stored}`} alt={m.title} className="mt-2 w-full rounded-lg" />
              <p className="mt-2 flex flex-wrap gap-2">
                <Button asChild>
                  <a href={`/media/${m.stored}`} download>
                    Download
                  </a>
                </Button>
                <CopyButton text={m.link} says="Copy its link" />
              </p>
            </>
          ) : (
            <>
              <p className="mt-1 rounded-md bg-card p-3 whitespace-pre-line [overflow-wrap:anywhere]">{m.text}</p>
              <p className="mt-2">
                <CopyButton text={m.text} label={`Copy “${m.title}”`} />
              </p>
            </>
          )}
        </li>
      ))}
    </ul>
  )
}
