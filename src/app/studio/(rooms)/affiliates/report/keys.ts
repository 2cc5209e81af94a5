// By what the report tells apart.
export const keys = [
  { value: "affiliate", says: "By affiliate", column: "Affiliate" },
  { value: "offer", says: "By offer", column: "Offer" },
  { value: "link", says: "By link", column: "Link" },
] as const

export type ReportAsked = { readonly by?: string }

export const reportKey = (asked: string | undefined) => keys.find((k) => k.value === asked)?.value ?? "affiliate"
