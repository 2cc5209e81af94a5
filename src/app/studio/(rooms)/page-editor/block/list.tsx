"use client"

// The settings of each kind of block.
import type { BlockKind } from "@/core/page/document"
import { SelectField } from "@/ui/field"
import { Announcement } from "./announcement"
import { Aside } from "./aside"
import { AsksWords } from "./asks-words"
import { Assignment } from "./assignment"
import { Audio } from "./audio"
import { ButtonBlock, Reach } from "./button"
import { Catalogue } from "./catalogue"
import { Checkout } from "./checkout"
import { Box, Columns } from "./columns"
import { Comparison } from "./comparison"
import { Countdown } from "./countdown"
import { Decision } from "./decision"
import { Divider } from "./divider"
import { Download } from "./download"
import { Embed } from "./embed"
import { Figures } from "./figures"
import { Form } from "./form"
import { Gallery } from "./gallery"
import { Guarantee } from "./guarantee"
import { Headline } from "./headline"
import { Kept } from "./kept"
import { Lessons } from "./lessons"
import { Numbered } from "./numbered"
import { Outcomes } from "./outcomes"
import { Picture } from "./picture"
import { Player } from "./player"
import { Points } from "./points"
import { Price } from "./price"
import { Proof } from "./proof"
import { Questions } from "./questions"
import { Quiz } from "./quiz"
import { Quotes } from "./quotes"
import { Recommend } from "./recommend"
import { Replay } from "./replay"
import { Seat } from "./seat"
import { Section } from "./section"
import type { SettingsOf, SettingsProps } from "./settings"
import { Signature } from "./signature"
import { Survey } from "./survey"
import { TeacherBlock } from "./teacher"
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
  "asks-words": AsksWords,
  columns: Columns,
  box: Box,
  reach: Reach,
  announcement: Announcement,
  catalogue: Catalogue,
  aside: Aside,
  comparison: Comparison,
  countdown: Countdown,
  figures: Figures,
  gallery: Gallery,
  guarantee: Guarantee,
  kept: Kept,
  numbered: Numbered,
  outcomes: Outcomes,
  questions: Questions,
  quotes: Quotes,
  signature: Signature,
  teacher: TeacherBlock,
}

export function BlockSettings(p: SettingsProps<BlockKind>) {
  const Settings = settings[p.block.kind] as SettingsOf<BlockKind>
  return (
    <>
      <Settings {...p} />
      {p.of === null ? null : (
        <div className="mt-4 border-t border-line pt-3">
          <SelectField
            label="Shown on"
            value={p.block.on ?? ""}
            onChange={(e) => p.onChange({ on: (e.target.value || undefined) as "phone" | undefined }, "on")}
          >
            <option value="">phones and wider screens</option>
            <option value="phone">phones only</option>
            <option value="desktop">wider screens only</option>
          </SelectField>
          <SelectField
            label="Shown to"
            value={p.block.seenBy ? `${p.block.seenBy.are ? "" : "not "}${p.block.seenBy.segment}` : ""}
            onChange={(e) => {
              const [id] = /\d+$/.exec(e.target.value) ?? []
              p.onChange(
                { seenBy: id ? { segment: Number(id), are: !e.target.value.startsWith("not") } : undefined },
                "to",
              )
            }}
          >
            <option value="">everybody</option>
            {p.segments.map((x) => (
              <option key={x.id} value={x.id}>
                {x.name}
              </option>
            ))}
            {p.segments.map((x) => (
              <option key={x.id} value={`not ${x.id}`}>
                everybody but {x.name}
              </option>
            ))}
          </SelectField>
          {p.block.seenBy ? (
            <p className="mt-1 text-note text-soft">
              A visitor who isn’t signed in counts as somebody nothing is known of.
            </p>
          ) : null}
        </div>
      )}
    </>
  )
}
