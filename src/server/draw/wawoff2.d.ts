declare module "wawoff2" {
  /** A WOFF2 font as the TrueType font that it was made from. */
  export function decompress(font: Uint8Array): Promise<Uint8Array>
}
