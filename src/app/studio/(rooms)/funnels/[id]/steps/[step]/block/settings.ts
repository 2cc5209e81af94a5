// What the settings of a block are handed.
import type { ReactNode } from "react"
import type { Funnel, Step } from "@/core/funnel/draft"
import type { Block, BlockKind } from "@/core/page/document"

export type EditorPicture = {
  readonly id: number
  readonly name: string
  readonly url: string
  readonly width: number
  readonly height: number
}

export type EditorVideo = {
  readonly id: number
  readonly name: string
  readonly url: string
  readonly type: string
}

export type SettingsProps<K extends BlockKind> = {
  readonly block: Extract<Block, { kind: K }>
  readonly step: Step
  readonly funnel: Funnel
  readonly pictures: readonly EditorPicture[]
  readonly courses: readonly { id: number; title: string }[]
  readonly videos: readonly EditorVideo[]
  readonly offers: readonly { readonly id: number; readonly name: string }[]
  readonly onPicture: (picture: EditorPicture) => void
  readonly onVideo: (video: EditorVideo) => void
  /** `run` names the field, so that typing in it is one step back. */
  readonly onChange: (change: Partial<Extract<Block, { kind: K }>>, run: string) => void
}

export type SettingsOf<K extends BlockKind> = (p: SettingsProps<K>) => ReactNode
