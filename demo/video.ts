// The videos of the demo, with their captions and chapters, as blocks of a lesson.
import { readFile } from "node:fs/promises"
import { join } from "node:path"
import type { Context } from "@/server/context"
import { storeMedia } from "@/server/media/store"
import { captionsOf, videos } from "./videos/videos"

/** Keeps a video and its captions as uploads, and gives the block that plays them. */
export async function videoBlock(s: Context, scene: keyof typeof videos, says: string): Promise<object> {
  const v = videos[scene]
  const file = await readFile(join(process.cwd(), "demo/videos", `${scene}.mp4`))
  const media = await storeMedia(s, "video", `${says}.mp4`, file)
  const captions = await storeMedia(s, "file", `${says}.vtt`, Buffer.from(captionsOf(v)))
  if ("refused" in media || "refused" in captions) throw new Error(`the video “${says}” was refused`)
  return {
    id: "video",
    kind: "player",
    media: media.id,
    says,
    captions: captions.id,
    download: false,
    chapters: v.chapters.map(([at, title]) => ({ at, title })),
  }
}
