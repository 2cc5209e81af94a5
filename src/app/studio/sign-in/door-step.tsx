import type { ReactNode } from "react"
import { Heron } from "@/ui/heron"

export function DoorStep({ title, children }: { title: string; children: ReactNode }) {
  return (
    <main className="mx-auto max-w-md px-5 pt-[12vh] pb-10">
      <p className="mb-6 flex items-center gap-2 font-display text-lg font-bold">
        <Heron /> Swift Heron
      </p>
      <h1 className="mb-5">{title}</h1>
      {children}
    </main>
  )
}
