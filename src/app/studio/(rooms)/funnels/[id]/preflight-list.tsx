"use client"
import type { Fix, SaidFinding } from "@/core/finding"
import type { Funnel } from "@/core/funnel/draft"
import { Button } from "@/ui/button"
import { Link } from "@/ui/link"
import { useAction } from "@/ui/use-action"
import { mendAction } from "../actions"

export function PreflightList({
  findings,
  funnel,
  onWiring,
}: {
  findings: readonly SaidFinding[]
  funnel: Funnel
  onWiring: (step: number) => void
}) {
  const { busy, run } = useAction()
  if (findings.length === 0)
    return <p>Every way out leads somewhere, what is promised is there, and the mails can go out. Nothing to fix.</p>
  return (
    <ul className="space-y-3">
      {findings.map((f) => (
        <li key={`${f.rule}${f.where}${f.suffers}`} className="border-t border-line pt-3 first:border-0 first:pt-0">
          <p className="text-fine text-soft">
            {f.weight === "stop" ? <strong className="text-amber-text">To fix</strong> : "Advice"} · {f.where}
          </p>
          <p className="mt-0.5">{f.suffers}</p>
          <div className="mt-1.5">
            {"act" in f.fix ? (
              <Button disabled={busy} onClick={() => run(() => mendAction(f.fix as Extract<Fix, { act: string }>))}>
                {f.says}
              </Button>
            ) : f.fix.go === "wiring" ? (
              <Button onClick={() => onWiring((f.fix as { step: number }).step)}>{f.says}</Button>
            ) : (
              <Button asChild>
                <Link href={hrefOf(f.fix, funnel.id)}>{f.says}</Link>
              </Button>
            )}
          </div>
        </li>
      ))}
    </ul>
  )
}

function hrefOf(fix: Extract<Fix, { go: string }>, funnel: number): string {
  switch (fix.go) {
    case "page":
      return `/studio/funnels/${funnel}/steps/${fix.step}${fix.block ? `?block=${fix.block}` : ""}`
    case "course":
      return `/studio/courses/${fix.course}${fix.room ? `/${fix.room}` : ""}`
    case "sequence":
      return `/studio/mail/sequences/${fix.sequence}`
    case "webinar":
      return `/studio/calendar/webinars/${fix.webinar}`
    case "programme":
      return `/studio/affiliates/programmes/${fix.offer}`
    case "offer":
      return `/studio/offers/${fix.offer}`
    case "settings":
      return "/studio/settings"
    case "mail":
    case "legal":
    case "cards":
      return `/studio/settings/${fix.go}`
    case "wiring":
      return `/studio/funnels/${funnel}?step=s${fix.step}`
  }
}
