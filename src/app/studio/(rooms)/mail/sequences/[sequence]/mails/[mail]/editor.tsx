"use client"

import { type ComponentProps, useCallback } from "react"
import type { Page } from "@/core/page/document"
import { MailPageEditor } from "../../../../mail-page-editor"
import { saveMailPageAction } from "../../../actions"

type Props = Omit<ComponentProps<typeof MailPageEditor>, "whose" | "save"> & { readonly mail: number }

export function SequenceMailEditor({ mail, ...rest }: Props) {
  const save = useCallback(
    (known: number, page: Page, base: Page) => saveMailPageAction(mail, known, page, base),
    [mail],
  )
  return <MailPageEditor whose={{ mail }} save={save} {...rest} />
}
