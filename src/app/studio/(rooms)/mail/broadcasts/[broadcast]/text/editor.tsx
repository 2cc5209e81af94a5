"use client"

import { type ComponentProps, useCallback } from "react"
import type { Page } from "@/core/page/document"
import { MailPageEditor } from "../../../mail-page-editor"
import { saveBroadcastPageAction } from "../../actions"

type Props = Omit<ComponentProps<typeof MailPageEditor>, "whose" | "save"> & { readonly broadcast: number }

export function BroadcastTextEditor({ broadcast, ...rest }: Props) {
  const save = useCallback(
    (known: number, page: Page, base: Page) => saveBroadcastPageAction(broadcast, known, page, base),
    [broadcast],
  )
  return <MailPageEditor whose={{ broadcast }} save={save} {...rest} />
}
