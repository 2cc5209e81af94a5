// Account numbers for payouts: IBAN (ISO 13616) and BIC (ISO 9362).
import {
  countrySpecs,
  electronicFormatIBAN,
  isSEPACountry,
  ValidationErrorsIBAN,
  validateBIC,
  validateIBAN,
} from "ibantools"

export type IbanTrouble = "empty" | "country" | "length" | "digits" | "form"

/** Countries that have joined the registry since the library looked. */
const joinedSince = new Set(["BI", "DJ", "FK"])

/** As the bank wants it: capitals, no spaces. What it can't be is said; null beside it. */
export function readIban(typed: string): { readonly iban: string } | { readonly trouble: IbanTrouble } {
  const iban =
    electronicFormatIBAN(
      typed
        .normalize("NFKC")
        .replace(/^IBAN\s*:?/i, "")
        .slice(0, 80),
    ) ?? ""
  if (!iban) return { trouble: "empty" }
  const country = countrySpecs[iban.slice(0, 2)]
  if (!/^[A-Z]{2}/.test(iban)) return { trouble: "form" }
  if (!country?.IBANRegistry && !joinedSince.has(iban.slice(0, 2))) return { trouble: "country" }
  const { valid, errorCodes } = validateIBAN(iban)
  if (valid) return { iban }
  if (errorCodes.includes(ValidationErrorsIBAN.WrongBBANLength)) return { trouble: "length" }
  if (
    errorCodes.includes(ValidationErrorsIBAN.WrongIBANChecksum) ||
    errorCodes.includes(ValidationErrorsIBAN.ChecksumNotNumber)
  )
    return { trouble: "digits" }
  return { trouble: "form" }
}

/** In groups of four, as it is written on paper. */
export const ibanText = (iban: string) => iban.replace(/(.{4})(?=.)/g, "$1 ")

/** All but its beginning and end, for whoever only wants to know it again. */
export const ibanShort = (iban: string) => (iban ? `${iban.slice(0, 4)} … ${iban.slice(-4)}` : "")

/** A BIC in capitals, or null where it isn't one. Empty is allowed: within SEPA the IBAN is enough. */
export function readBic(typed: string): string | null {
  const bic = typed.replace(/\s/g, "").toUpperCase()
  return bic === "" || validateBIC(bic).valid ? bic : null
}

/** Whether euros reach the account by SEPA. */
export const isSepa = (iban: string) => isSEPACountry(iban.slice(0, 2))
