import { sizeText } from "@/core/words/size"
import type { MediaListed } from "@/server/media/place"
import type { MediaKind } from "@/server/media/store"

export const kindNames: Readonly<Record<MediaKind, string>> = { picture: "Pictures", video: "Videos", file: "Files" }

/** How large it is, and how long it plays. */
export function aboutMedia(m: Pick<MediaListed, "kind" | "width" | "height" | "seconds" | "size">): string {
  const plays = m.seconds ? `${Math.floor(m.seconds / 60)}:${String(m.seconds % 60).padStart(2, "0")} min, ` : ""
  return `${m.kind === "picture" ? `${m.width} × ${m.height}, ` : plays}${sizeText(m.size)}`
}

/** What its name ends with: "PDF". */
export const endingOf = (name: string) => (/\.([a-z0-9]{1,5})$/i.exec(name)?.[1] ?? "File").toUpperCase()

/** In which widths a film is there. `makes`: whether narrower ones can be made on this machine. */
export function aboutWidths(narrowed: string | null, makes: boolean): string {
  if (narrowed) return `It is there ${narrowed.replace(",", " and ")} pixels wide, too, for phones and smaller windows.`
  if (narrowed !== null) return "It plays as it came: narrower ones couldn’t be made, or would be no lighter."
  return makes
    ? "Narrower ones, for phones, are being made."
    : "It plays as it came: this machine has no ffmpeg to make narrower ones for phones."
}
