/** How numbers, dates and amounts are written (BCP 47): it goes with the words. */
export const locale = "en-GB"
