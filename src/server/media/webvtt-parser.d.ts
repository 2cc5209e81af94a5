declare module "webvtt-parser" {
  class WebVTTParser {
    /** Lines count from 1. */
    parse(
      text: string,
      mode: "subtitles",
    ): { readonly errors: readonly { readonly message: string; readonly line: number }[] }
  }
  const exported: { readonly WebVTTParser: typeof WebVTTParser }
  export default exported
}
