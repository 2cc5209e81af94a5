// What kinds of field are called.
import type { FieldKind } from "@/core/person/field"

export const kindWords: Readonly<Record<FieldKind, string>> = {
  text: "a line of text",
  number: "a number",
  date: "a date",
  choice: "one of some choices",
  "yes-no": "yes or no",
}
