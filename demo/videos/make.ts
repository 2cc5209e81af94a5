// Makes the six videos of the demo from its drawn pictures, once: they are kept beside this file, and nothing is made at start.
// Needs ffmpeg. Run it with: npx tsx demo/videos/make.ts
import { execFileSync } from "node:child_process"
import { mkdtempSync, rmSync, statSync, writeFileSync } from "node:fs"
import { tmpdir } from "node:os"
import { join } from "node:path"
import { drawScene, type Scene } from "../pictures"
import { videos } from "./videos"

const folder = mkdtempSync(join(tmpdir(), "heron-videos-"))
for (const [scene, v] of Object.entries(videos) as [Scene, (typeof videos)[keyof typeof videos]][]) {
  const picture = join(folder, `${scene}.png`)
  writeFileSync(picture, await drawScene(scene))
  const seconds = v.says.at(-1)![0] + 6
  const to = join(import.meta.dirname, `${scene}.mp4`)
  // The camera goes slowly closer; a low hum, so that the sound can be told from silence.
  const zoom = `scale=1920:1080,zoompan=z='1+0.25*on/${seconds * 12}':x='iw*${v.towards[0]}*(1-1/zoom)':y='ih*${v.towards[1]}*(1-1/zoom)':d=${seconds * 12}:s=640x360:fps=12`
  execFileSync("ffmpeg", [
    ...["-y", "-loglevel", "error", "-loop", "1", "-i", picture],
    ...["-f", "lavfi", "-i", "sine=frequency=98:sample_rate=22050"],
    ...["-t", String(seconds), "-vf", zoom, "-af", "volume=0.08", "-c:v", "libx264", "-preset", "veryslow"],
    ...[
      "-crf",
      "30",
      "-pix_fmt",
      "yuv420p",
      "-c:a",
      "aac",
      "-b:a",
      "16k",
      "-movflags",
      "+faststart",
      "-map_metadata",
      "-1",
    ],
    ...["-fflags", "+bitexact", to],
  ])
  console.log(`${scene}.mp4: ${Math.round(statSync(to).size / 1000)} KB, ${seconds} s`)
}
rmSync(folder, { recursive: true })
