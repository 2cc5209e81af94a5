"use client"

// The settings of each kind of block.
import type { BlockKind } from "@/core/page/document"
import { Assignment } from "./assignment"
import { Audio } from "./audio"
import { ButtonBlock } from "./button"
import { Checkout } from "./checkout"
import { Decision } from "./decision"
import { Divider } from "./divider"
import { Download } from "./download"
import { Embed } from "./embed"
import { Form } from "./form"
import { Headline } from "./headline"
import { Lessons } from "./lessons"
import { Picture } from "./picture"
import { Player } from "./player"
import { Points } from "./points"
import { Price } from "./price"
import { Proof } from "./proof"
import { Quiz } from "./quiz"
import { Recommend } from "./recommend"
import { Replay } from "./replay"
import { Seat } from "./seat"
import { Section } from "./section"
import type { SettingsOf, SettingsProps } from "./settings"
import { Survey } from "./survey"
import { Text } from "./text"
import { Video } from "./video"

const settings: { readonly [K in BlockKind]: SettingsOf<K> } = {
  headline: Headline,
  text: Text,
  list: Points,
  picture: Picture,
  button: ButtonBlock,
  form: Form,
  lessons: Lessons,
  video: Video,
  price: Price,
  checkout: Checkout,
  decision: Decision,
  proof: Proof,
  seat: Seat,
  replay: Replay,
  divider: Divider,
  player: Player,
  audio: Audio,
  download: Download,
  quiz: Quiz,
  survey: Survey,
  recommend: Recommend,
  assignment: Assignment,
  embed: Embed,
  section: Section,
}

export function BlockSettings(p: SettingsProps<BlockKind>) {
  const Settings = settings[p.block.kind] as SettingsOf<BlockKind>
  return <Settings {...p} />
}
