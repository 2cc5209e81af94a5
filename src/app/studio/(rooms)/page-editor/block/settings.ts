// What the settings of a block are handed.
import type { ReactNode } from "react"
import type { Funnel, Step } from "@/core/funnel/draft"
import type { Block, BlockKind } from "@/core/page/document"
import type { Picture } from "@/core/page/picture"
import type { Field } from "@/core/person/field"
import type { LinkTarget } from "@/server/page/links"
import type { Chip } from "@/ui/rich-text"

export type EditorPicture = {
  readonly id: number
  readonly name: string
  readonly url: string
  readonly width: number
  readonly height: number
  /** What Media says that it shows. */
  readonly alt?: string
} & Pick<Picture, "tones" | "focus">

export type EditorVideo = {
  readonly id: number
  readonly name: string
  readonly url: string
  readonly type: string
}

export type EditorFile = { readonly id: number; readonly name: string; readonly url: string; readonly type?: string }

export type SettingsProps<K extends BlockKind> = {
  readonly block: Extract<Block, { kind: K }>
  /** The step that it is a page of; null in a lesson. */
  readonly of: { readonly step: Step; readonly funnel: Funnel } | null
  /** In an e-mail: its personal words. */
  readonly words: { readonly chips: readonly Chip[]; moment(local: string): Chip } | undefined
  /** What a link can lead to, by name. */
  readonly links: readonly LinkTarget[]
  readonly pictures: readonly EditorPicture[]
  readonly courses: readonly { id: number; title: string }[]
  readonly videos: readonly EditorVideo[]
  readonly files: readonly EditorFile[]
  readonly offers: readonly { readonly id: number; readonly name: string }[]
  readonly teachers: readonly { readonly id: number; readonly name: string }[]
  /** The school's fields, which a form can ask for. */
  readonly fields: readonly Field[]
  /** Whom a block can be for. */
  readonly segments: readonly { readonly id: number; readonly name: string }[]
  /** Sections that are kept for use on several pages. */
  readonly sections: readonly { readonly id: number; readonly name: string }[]
  readonly onPicture: (picture: EditorPicture) => void
  readonly onFile: (file: EditorFile) => void
  readonly onVideo: (video: EditorVideo) => void
  /** `run` names the field, so that typing in it is one step back. */
  readonly onChange: (change: Partial<Extract<Block, { kind: K }>>, run: string) => void
}

export type SettingsOf<K extends BlockKind> = (p: SettingsProps<K>) => ReactNode
