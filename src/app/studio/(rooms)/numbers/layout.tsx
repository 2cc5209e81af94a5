import type { ReactNode } from "react"
import { PlaceTabs } from "../place-tabs"

export default function NumbersLayout({ children }: { children: ReactNode }) {
  return (
    <div className="mx-auto max-w-6xl pt-3">
      <PlaceTabs of="numbers" />
      {children}
    </div>
  )
}
