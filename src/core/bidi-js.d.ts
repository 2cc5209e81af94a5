declare module "bidi-js" {
  type Levels = { readonly levels: Uint8Array }
  /** The levels of a text by the Unicode Bidirectional Algorithm, odd where it runs from right to left. */
  export default function bidiFactory(): {
    /** The type of a character: "R" and "AL" run from right to left. */
    getBidiCharTypeName(letter: string): string
    getEmbeddingLevels(text: string, direction?: "ltr" | "rtl" | "auto"): Levels
    /** Pieces, from and to inclusive, to be turned around one after the other to see the text. */
    getReorderSegments(text: string, levels: Levels): [number, number][]
  }
}
