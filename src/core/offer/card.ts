// Card numbers: their check digit, and the numbers of our own that the card processor stand-in knows.

/** Whether the last digit is right: ISO/IEC 7812-1, annex B (Luhn). Digits only, 12 to 19 of them. */
export function passesLuhn(number: string): boolean {
  if (!/^\d{12,19}$/.test(number)) return false
  let sum = 0
  for (let i = 0; i < number.length; i++) {
    const digit = Number(number[number.length - 1 - i])
    const doubled = i % 2 === 1 ? digit * 2 : digit
    sum += doubled > 9 ? doubled - 9 : doubled
  }
  return sum % 10 === 0
}

/** How a test card behaves. */
export const testCards = {
  fine: { number: "7220440000000015", says: "is charged" },
  refused: { number: "7220440000000023", says: "is refused" },
  insufficient: { number: "7220440000000031", says: "has too little on it" },
  expired: { number: "7220440000000049", says: "has expired" },
  confirm: { number: "7220440000000056", says: "asks for an extra confirmation" },
  later: { number: "7220440000000064", says: "is charged now, and refused when a plan goes on" },
} as const

export type TestCard = keyof typeof testCards
