import { Slot } from "radix-ui"
import type { ComponentProps } from "react"

const looks = {
  primary: "bg-slate text-on-slate border-slate hover:brightness-110",
  plain: "bg-card text-ink border-line hover:border-soft",
  quiet: "border-transparent text-slate hover:underline px-1",
  warn: "bg-amber-wash text-amber-text border-amber/50 hover:border-amber",
  danger: "bg-card text-dusk border-line hover:border-dusk",
} as const

export type ButtonLook = keyof typeof looks

export function Button({
  look = "plain",
  asChild = false,
  className = "",
  ...rest
}: ComponentProps<"button"> & { look?: ButtonLook; asChild?: boolean }) {
  const As = asChild ? Slot.Root : "button"
  return (
    <As
      type={asChild ? undefined : "button"}
      className={`inline-flex min-h-9 items-center justify-center gap-1.5 rounded-md border px-3 py-1.5 text-body font-semibold disabled:opacity-50 ${looks[look]} ${className}`}
      {...rest}
    />
  )
}
