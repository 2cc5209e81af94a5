// Passwords by NIST SP 800-63B (5.1.1.2 in revision 3, 3.1.1 in revision 4): long enough, any characters, no rule of composition,
// and none that is common or is the address itself.
import { dictionary } from "@zxcvbn-ts/language-common"

export const passwordLength = { least: 10, most: 200 } as const

const common = new Set<string>(dictionary["passwords-common"])

/** As it is hashed and compared: the same however a keyboard composes its letters (Unicode NFKC). */
export const normalPassword = (typed: string) => typed.normalize("NFKC")

/**
 * What is wrong with a new password; null: nothing.
 *
 * @param about the address and the like, which it must not be
 */
export function passwordTrouble(typed: string, about: readonly string[] = []): "short" | "long" | "common" | null {
  const password = normalPassword(typed)
  const length = [...password].length
  if (length < passwordLength.least) return "short"
  if (length > passwordLength.most) return "long"
  const plain = password.toLowerCase()
  const alike = (text: string) => text !== "" && plain === text.toLowerCase()
  if (about.some((a) => alike(a) || alike(a.split("@")[0] ?? ""))) return "common"
  // One character, or two in turn, all the way is guessed as soon as a common one.
  if (/^(.{1,2}?)\1+.?$/u.test(plain) || common.has(plain)) return "common"
  return null
}
