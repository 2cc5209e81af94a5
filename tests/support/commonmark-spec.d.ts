declare module "commonmark-spec" {
  /** The examples of the specification, with a tab written as →. */
  export const tests: readonly { markdown: string; html: string; section: string; number: number }[]
}
