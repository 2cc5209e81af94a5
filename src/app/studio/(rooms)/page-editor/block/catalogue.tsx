"use client"

import { option, SelectField, TextArea } from "@/ui/field"
import { Items } from "./items"
import type { SettingsOf } from "./settings"

export const Catalogue: SettingsOf<"catalogue"> = ({ block, courses, offers, onChange }) => {
  const [course] = courses
  const fresh = course ? { course: course.id } : { offer: offers[0]?.id ?? 0 }
  return (
    <div className="space-y-4">
      <Items
        items={block.items}
        one="Card"
        fresh={() => fresh}
        most={course || offers.length ? 60 : 0}
        onChange={(items, run) => onChange({ items }, `items:${run}`)}
      >
        {(item, _, i) => (
          <SelectField
            label="Shows"
            value={"course" in item ? `course:${item.course}` : `offer:${item.offer}`}
            onChange={(e) => {
              const [of, id] = e.target.value.split(":")
              onChange(
                { items: block.items.with(i, of === "course" ? { course: Number(id) } : { offer: Number(id) }) },
                `shows:${i}`,
              )
            }}
          >
            <optgroup label="Courses">{courses.map((c) => option(`course:${c.id}`, c.title))}</optgroup>
            <optgroup label="Offers">{offers.map((o) => option(`offer:${o.id}`, o.name))}</optgroup>
          </SelectField>
        )}
      </Items>
      <p className="text-note text-soft">
        A course leads to the page that gives or sells it. While there is none, or it is closed, visitors can ask to be
        told; they are, when you open it.
      </p>
      <TextArea
        label="What whoever waits agrees to"
        value={block.consent}
        rows={3}
        maxLength={600}
        onChange={(e) => onChange({ consent: e.target.value }, "consent")}
      />
    </div>
  )
}
