declare module "bidi-js" {
  type Levels = { readonly levels: Uint8Array }
  /** The levels of a text by the Unicode Bidirectional Algorithm, odd where it runs from right to left. */
  export default function bidiFactory(): {
    getEmbeddingLevels(text: string, direction?: "ltr" | "rtl" | "auto"): Levels
  }
}
