// What stands in the rich text of an e-mail besides words: its links, its pictures, and what it refers to.
import { unescapeHtml } from "../html"
import { linkRefs } from "../page/linked"
import { type Ref, refTo } from "../reference"
import { chipAbout, chipsIn } from "./chip"

/** The addresses in a body, in reading order: link n of a mail is the n-th of these, from 1. */
export function linksOf(body: string): string[] {
  return [...body.matchAll(/<a\b[^>]*?\bhref="([^"]*)"/g)].map((m) => unescapeHtml(m[1]!))
}

const image = /<img\b([^>]*\bdata-media="(\d{1,9})"[^>]*)>/g

export type BodyPicture = { readonly media: number; readonly alt: string }

/** The pictures of a body, in reading order. */
export function picturesOf(body: string): BodyPicture[] {
  return [...body.matchAll(image)].map((m) => ({ media: Number(m[2]), alt: altIn(m[1]!) }))
}

const altIn = (attributes: string) => unescapeHtml(/\balt="([^"]*)"/.exec(attributes)?.[1] ?? "").trim()

export type PictureFile = { readonly url: string; readonly width: number; readonly height: number }

/** The widest that an e-mail is drawn, px. */
export const widest = 560

/** A body with its pictures as they are fetched; one that is no longer there is left out. */
export function withPictures(body: string, files: ReadonlyMap<number, PictureFile>): string {
  return body.replace(image, (_, attributes: string, media: string) => {
    const file = files.get(Number(media))
    if (!file) return ""
    const width = Math.min(file.width, Number(/\bdata-widest="(\d{1,4})"/.exec(attributes)?.[1] ?? widest))
    const alt = /\balt="([^"]*)"/.exec(attributes)?.[1] ?? ""
    return `<img class="picture" src="${file.url}" width="${width}" height="${Math.round((file.height * width) / file.width)}" alt="${alt}">`
  })
}

/** What the words of an e-mail refer to. */
export function refsOfBody(body: string): Ref[] {
  return [
    ...linkRefs(body),
    ...picturesOf(body).flatMap((p) => refTo("media", p.media, "shows it")),
    ...chipsIn(body).flatMap((word) => {
      const about = chipAbout(word)
      return about ? refTo(about.kind, about.id, "speaks of it") : []
    }),
  ]
}
