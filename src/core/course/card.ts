// A course as others show it: its title, its lessons, and whether they are live.

/** What of a course shows on pages and in mails. */
export type CourseCard = {
  readonly id: number
  readonly slug: string
  readonly title: string
  readonly promise: string
  readonly teacher: string
  readonly state: "draft" | "live"
  readonly lessons: readonly {
    readonly id: number
    readonly title: string
    readonly minutes: number
    readonly state: "draft" | "live"
  }[]
}
