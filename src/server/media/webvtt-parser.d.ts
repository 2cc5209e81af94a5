declare module "webvtt-parser" {
  export class WebVTTParser {
    /** Lines count from 1. */
    parse(
      text: string,
      mode: "subtitles",
    ): { readonly errors: readonly { readonly message: string; readonly line: number }[] }
  }
}
