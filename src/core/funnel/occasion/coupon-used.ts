import type { OccasionFacts } from "./kind"

export const couponUsed: OccasionFacts = {
  says: (name) => `buys with the coupon ${name}`,
  about: "coupon",
  happens: "coupon-used",
}
