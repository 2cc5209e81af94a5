// A checker of HTML from outside, as tests ask it.
import { HtmlValidate } from "html-validate"

const validator = new HtmlValidate({
  extends: ["html-validate:recommended", "html-validate:standard"],
  rules: {
    // How it is written is ours: names in small letters, and nothing that could be left out.
    "doctype-style": "off",
    "attr-quotes": "off",
    "void-style": "off",
    "no-trailing-whitespace": "off",
    "long-title": "off",
    "attribute-boolean-style": "off",
    "attribute-empty-style": "off",
    // A form that is sent, and its button, are known by what they are.
    "prefer-native-element": "off",
    "no-implicit-button-type": "off",
    // The input of a name is a text, as HTML has it; a film as cover is muted, and was chosen.
    "no-implicit-input-type": "off",
    "no-autoplay": "off",
    // Only with JavaScript or with an address that browsers load anyway.
    "require-sri": "off",
    "no-inline-style": "off",
  },
})

/** What html-validate finds in a page (“recommended” and “standard”, less what is a matter of taste). */
export const problems = async (text: string) =>
  (await validator.validateString(text)).results.flatMap((r) => r.messages.map((m) => `${m.ruleId}: ${m.message}`))
