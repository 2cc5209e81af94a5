"use client"

import { usePathname } from "next/navigation"
import { type ComponentProps, useActionState } from "react"

/**
 * A form's act with what came of it, as `useActionState` gives it, for the page that it stands on: before the scripts have come the
 * form is sent to that address. Without one React writes an empty `action`, which HTML doesn't allow.
 */
export function usePageAct<S>(act: (state: Awaited<S>, form: FormData) => S | Promise<S>, first: Awaited<S>) {
  return useActionState(act, first, usePathname())
}

/** A form of which nothing comes back: it leads on, or shows the page anew. */
export function ActForm({
  act,
  ...rest
}: Omit<ComponentProps<"form">, "action"> & { act: (state: undefined, form: FormData) => Promise<void> }) {
  const [, send] = usePageAct(act as (state: undefined, form: FormData) => Promise<undefined>, undefined)
  return <form action={send} {...rest} />
}
