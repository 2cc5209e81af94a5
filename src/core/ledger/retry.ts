// What becomes of a charge that the card refused: again after one, three and seven days, then the access ends or stays.

/** Days after the day it was due. Common practice. */
export const retryDays = [1, 3, 7] as const

/** When a charge is tried again, ms, after so many failed tries (1 or more); null: no more. */
export function retryAt(due: number, failedTries: number): number | null {
  const days = retryDays[failedTries - 1]
  return days === undefined ? null : due + days * 86_400_000
}
