import type { ReactNode } from "react"

/** Why something was refused, in words; nothing while it wasn't. */
export function Refusal({ children, className = "" }: { children?: ReactNode; className?: string }) {
  return children ? (
    <p role="alert" className={`font-semibold text-dusk ${className}`}>
      {children}
    </p>
  ) : null
}
