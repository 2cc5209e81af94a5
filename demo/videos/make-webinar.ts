// Makes the recording of the demo's webinar, and the film that the meeting service stand-in feeds to a live room, once: they are kept, and
// nothing is made at start. Needs ffmpeg and a sans-serif font. Run it with: npx tsx demo/videos/make-webinar.ts
import { execFileSync } from "node:child_process"
import { mkdtempSync, rmSync, statSync, writeFileSync } from "node:fs"
import { tmpdir } from "node:os"
import { join } from "node:path"
import sharp from "sharp"
import { slideSeconds, slides } from "./webinar"

const folder = mkdtempSync(join(tmpdir(), "heron-webinar-"))
const jar = (milk: number) =>
  `<rect x="700" y="120" width="200" height="330" rx="20" fill="#CFE0E0"/><rect x="712" y="200" width="176" height="240" rx="14" fill="#DCD9A8"/><rect x="712" y="200" width="176" height="240" rx="14" fill="#FBF8F0" opacity="${milk}"/><rect x="720" y="98" width="160" height="30" rx="8" fill="#A87B4A"/>`
const host = `<circle cx="480" cy="220" r="80" fill="#D9A882"/><path d="M395 215q5 -100 85 -100t85 100q-30 -50 -85 -50t-85 50z" fill="#3A2A1E"/><path d="M300 540q10 -210 180 -220q170 10 180 220z" fill="#64752B"/>`
const sheet = (inner: string) =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="960" height="540"><rect width="960" height="540" fill="#E9DFC9"/><rect y="470" width="960" height="70" fill="#C79A66"/>${inner}</svg>`
const text = (x: number, y: number, size: number, says: string, weight = 400) =>
  `<text x="${x}" y="${y}" font-family="DejaVu Sans, sans-serif" font-size="${size}" font-weight="${weight}" fill="#2A2019">${says.replaceAll("&", "&amp;")}</text>`

const encode = (to: string, from: readonly string[], filter: string, seconds: number) => {
  execFileSync("ffmpeg", [
    ...["-y", "-loglevel", "error", ...from, "-f", "lavfi", "-i", "sine=frequency=98:sample_rate=22050"],
    ...["-t", String(seconds), "-vf", filter, "-af", "volume=0.06", "-c:v", "libx264", "-preset", "veryslow"],
    ...["-crf", "30", "-g", "48", "-pix_fmt", "yuv420p", "-c:a", "aac", "-b:a", "16k"],
    ...["-movflags", "+faststart", "-map_metadata", "-1", "-fflags", "+bitexact", to],
  ])
  console.log(`${to}: ${Math.round(statSync(to).size / 1000)} KB, ${seconds} s`)
}

const list: string[] = []
for (const [i, slide] of slides.entries()) {
  const file = join(folder, `${i}.png`)
  const lines = slide.lines.map((l, n) => text(70, 250 + n * 62, 36, `– ${l}`)).join("")
  writeFileSync(
    file,
    await sharp(Buffer.from(sheet(text(60, 140, 42, slide.title, 700) + lines + jar(i / slides.length))))
      .png()
      .toBuffer(),
  )
  list.push(`file '${file}'\nduration ${slideSeconds}`)
}
writeFileSync(join(folder, "slides.txt"), `${list.join("\n")}\nfile '${join(folder, `${slides.length - 1}.png`)}'\n`)
encode(
  join(import.meta.dirname, "brine.mp4"),
  ["-f", "concat", "-safe", "0", "-i", join(folder, "slides.txt")],
  "fps=8,scale=640:360",
  slides.length * slideSeconds,
)

const speaker = join(folder, "speaker.png")
writeFileSync(
  speaker,
  await sharp(Buffer.from(sheet(host + text(40, 60, 30, "Live", 700))))
    .png()
    .toBuffer(),
)
encode(
  join(import.meta.dirname, "../../src/standins/meeting/speaker.mp4"),
  ["-loop", "1", "-i", speaker],
  "scale=1920:1080,zoompan=z='1.06+0.04*sin(on/24)':x='iw*0.5*(1-1/zoom)':y='ih*0.4*(1-1/zoom)':d=1:s=640x360:fps=12",
  20,
)
rmSync(folder, { recursive: true })
