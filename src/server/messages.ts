// What a field says where its own rule says nothing else: never the validator's words, but what is wanted.
import * as v from "valibot"

v.setGlobalMessage((issue) => {
  switch (issue.type) {
    case "number":
      return "A number, please."
    case "integer":
      return "A whole number, please."
    case "string":
      return issue.received === "undefined" ? "This is missing." : "Some words, please."
    case "boolean":
      return "Yes or no, please."
    case "min_value":
      return `At least ${issue.requirement}, please.`
    case "max_value":
      return `At most ${issue.requirement}, please.`
    case "min_length":
      return "This is too short."
    case "max_length":
      return `Keep it to ${issue.requirement} characters.`
    case "non_empty":
      return "This can't be empty."
    case "picklist":
    case "variant":
    case "literal":
      return "Choose one of the list."
    case "object":
      return "This is missing."
    default:
      return "This can't be read. Please check it."
  }
})
