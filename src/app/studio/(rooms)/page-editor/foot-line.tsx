"use client"

import { Popover } from "radix-ui"
import { type ComponentProps, memo, type ReactNode, useEffect, useMemo, useRef, useState } from "react"
import type { Look } from "@/core/look/look"
import type { Page } from "@/core/page/document"
import { Link } from "@/ui/link"
import { describe, type MeasuredBy, type PageAs } from "./describe"
import { usePhone } from "./use-phone"
import { useWeight } from "./use-weight"

/** Below a page: how it does, in words; each opens what it is measured by, with the way to mend it; and what is handed in. */
export function FootLine({
  page,
  draw,
  onBlock,
  onPage,
  children,
  ...rest
}: {
  page: Page
  /** The whole document of a page. */
  draw: (page: Page) => string
  look: Look
  as: PageAs
  onBlock: (block: string) => void
  onPage: () => void
  children: ReactNode
}) {
  // It is measured once typing pauses.
  const [settled, setSettled] = useState(page)
  useEffect(() => {
    const timer = setTimeout(() => setSettled(page), 300)
    return () => clearTimeout(timer)
  }, [page])
  const html = useMemo(() => draw(settled), [draw, settled])
  const latest = useRef({ onBlock, onPage })
  latest.current = { onBlock, onPage }
  const acts = useMemo<Acts>(
    () => ({ onBlock: (block) => latest.current.onBlock(block), onPage: () => latest.current.onPage() }),
    [],
  )
  return (
    <div className="flex min-h-11 flex-wrap items-center gap-x-5 border-t border-line bg-card px-5 text-note">
      <Measures page={settled} html={html} acts={acts} {...rest} />
      <span className="ml-auto flex items-center gap-3 text-soft">{children}</span>
    </div>
  )
}

type Acts = { onBlock(block: string): void; onPage(): void }

const Measures = memo(function Measures({
  page,
  html,
  look,
  as,
  acts: { onBlock, onPage },
}: {
  page: Page
  html: string
  look: Look
  as: PageAs
  acts: Acts
}) {
  const phone = useRef<HTMLIFrameElement>(null)
  const measures = describe(page, { html, weight: useWeight(html), phone: usePhone(html, phone) }, look, as)
  return (
    <>
      {measures.map((m) => (
        <Popover.Root key={m.says}>
          <Popover.Trigger className={`min-h-8 font-bold hover:underline ${m.good ? "text-reed" : "text-amber-text"}`}>
            {m.says}
          </Popover.Trigger>
          <Popover.Portal>
            <Popover.Content
              side="top"
              align="start"
              sideOffset={8}
              className="z-30 max-h-80 w-80 overflow-auto rounded-lg border border-line bg-card p-3 text-body text-ink shadow-xl"
            >
              <ul aria-label={m.says} className="space-y-1.5">
                {m.by.length ? (
                  m.by.map((by, n) => <Detail key={`${n} ${by.says}`} by={by} onBlock={onBlock} onPage={onPage} />)
                ) : (
                  <li className="text-soft">Nothing on it asks for anything.</li>
                )}
              </ul>
            </Popover.Content>
          </Popover.Portal>
        </Popover.Root>
      ))}
      <iframe
        ref={phone}
        title="The page on a phone, to see whether it fits"
        sandbox="allow-same-origin"
        aria-hidden
        tabIndex={-1}
        className="pointer-events-none fixed top-0 -left-[9999px] h-[740px] w-[390px]"
      />
    </>
  )
})

function Detail({ by, onBlock, onPage }: { by: MeasuredBy; onBlock: (block: string) => void; onPage: () => void }) {
  const { mend } = by
  const way = "shrink-0 font-semibold text-slate hover:underline"
  return (
    <li className="flex items-baseline justify-between gap-3 [overflow-wrap:anywhere]">
      {by.says}
      {!mend ? null : "href" in mend ? (
        <Link href={mend.href} className={way}>
          Look
        </Link>
      ) : (
        <Popover.Close className={way} onClick={() => ("block" in mend ? onBlock(mend.block) : onPage())}>
          {"block" in mend ? "Show" : "Change"}
        </Popover.Close>
      )}
    </li>
  )
}

export const FootButton = (p: ComponentProps<"button">) => (
  <button type="button" className="min-h-7 hover:text-ink disabled:opacity-50" {...p} />
)
