// What a field says where its own rule says nothing else: never the validator's words, but what is wanted.

import * as v from "valibot"
import { refusals } from "@/core/words/refusals"

v.setGlobalMessage((issue) => {
  switch (issue.type) {
    case "number":
      return refusals.value.number
    case "integer":
      return refusals.value.wholeNumber
    case "string":
      return issue.received === "undefined" ? refusals.value.missing : refusals.value.words
    case "boolean":
      return refusals.value.yesOrNo
    case "min_value":
      return refusals.value.atLeast(String(issue.requirement))
    case "max_value":
      return refusals.value.atMost(String(issue.requirement))
    case "min_length":
      return refusals.value.tooShort
    case "max_length":
      return refusals.value.longest(String(issue.requirement))
    case "non_empty":
      return refusals.value.empty
    case "picklist":
    case "variant":
    case "literal":
      return refusals.value.oneOfTheList
    case "object":
      return refusals.value.missing
    default:
      return refusals.value.unreadable
  }
})
