// Pictures of the demo, drawn here as SVG. Each is a still life from the same few shapes.
import sharp from "sharp"

const colours = {
  wall: "#E9DFC9",
  table: "#C79A66",
  shade: "#A87B4A",
  leaf: "#8FA65A",
  leafDark: "#64752B",
  glass: "#CFE0E0",
  brine: "#DCD9A8",
  clay: "#8C5A3C",
  clayLight: "#A87253",
  salt: "#FBF8F0",
  ink: "#3A2A1E",
  hand: "#D9A882",
}

const ground = `<rect width="960" height="540" fill="${colours.wall}"/><rect y="380" width="960" height="160" fill="${colours.table}"/><rect y="380" width="960" height="10" fill="${colours.shade}"/>`

function cabbage(x: number, y: number, r: number): string {
  const veins = [-50, -25, 0, 25, 50]
    .map(
      (a) =>
        `<path d="M${x} ${y + r * 0.85}Q${x + a * r * 0.012} ${y} ${x + a * r * 0.018} ${y - r * 0.75}" stroke="${colours.leafDark}" stroke-width="4" fill="none" opacity=".55"/>`,
    )
    .join("")
  return `<circle cx="${x}" cy="${y}" r="${r}" fill="${colours.leaf}"/><path d="M${x - r} ${y}a${r} ${r} 0 0 1 ${r * 1.1} -${r}q-${r * 0.8} ${r * 0.3} -${r * 1.1} ${r}" fill="${colours.leafDark}" opacity=".5"/>${veins}`
}

function crock(x: number, y: number, w: number, h: number): string {
  return `<path d="M${x - w / 2} ${y}q-${w * 0.12} -${h * 0.55} ${w * 0.08} -${h}h${w * 0.84}q${w * 0.2} ${h * 0.45} ${w * 0.08} ${h}z" fill="${colours.clay}"/><ellipse cx="${x}" cy="${y - h}" rx="${w * 0.44}" ry="${h * 0.07}" fill="${colours.ink}"/><path d="M${x - w * 0.46} ${y - h * 0.55}q${w * 0.46} ${h * 0.12} ${w * 0.94} 0" stroke="${colours.clayLight}" stroke-width="10" fill="none"/>`
}

function jar(x: number, y: number, w: number, h: number, extra = ""): string {
  return `<rect x="${x - w / 2}" y="${y - h}" width="${w}" height="${h}" rx="18" fill="${colours.glass}"/><rect x="${x - w / 2 + 10}" y="${y - h * 0.72}" width="${w - 20}" height="${h * 0.72 - 10}" rx="12" fill="${colours.brine}"/>${extra}<rect x="${x - w / 2 + 14}" y="${y - h - 22}" width="${w - 28}" height="26" rx="6" fill="${colours.shade}"/>`
}

const bubbles = (x: number, y: number) =>
  Array.from(
    { length: 14 },
    (_, i) =>
      `<circle cx="${x + ((i * 53) % 120) - 60}" cy="${y - ((i * 37) % 170)}" r="${4 + (i % 4) * 2}" fill="#fff" opacity=".75"/>`,
  ).join("")
const saltDish = `<ellipse cx="690" cy="410" rx="80" ry="24" fill="${colours.clayLight}"/><path d="M630 405q60 -60 120 0z" fill="${colours.salt}"/>`

const scenes = {
  cover:
    ground +
    cabbage(300, 320, 95) +
    crock(560, 430, 250, 270) +
    `<path d="M760 420q30 -150 10 -210" stroke="${colours.leafDark}" stroke-width="6" fill="none"/>${[0, 1, 2, 3, 4].map((i) => `<circle cx="${772 + (i % 2 ? 20 : -16)}" cy="${240 + i * 34}" r="11" fill="#3F5673"/>`).join("")}`,
  cabbage: ground + cabbage(360, 330, 130) + saltDish,
  knead:
    ground +
    `<path d="M240 330h480q-20 130 -240 130t-240 -130z" fill="${colours.clay}"/><ellipse cx="480" cy="330" rx="240" ry="46" fill="${colours.leaf}"/><path d="M330 120q40 130 90 200l60 -20q-40 -110 -50 -200z" fill="${colours.hand}"/><path d="M640 110q-40 130 -90 210l-60 -20q40 -110 50 -200z" fill="${colours.hand}"/>`,
  weight:
    ground +
    jar(
      480,
      440,
      220,
      320,
      `<path d="M385 225q95 -40 190 0v24q-95 -30 -190 0z" fill="${colours.leafDark}"/><ellipse cx="480" cy="205" rx="52" ry="30" fill="#77726A"/>`,
    ),
  bubbles: ground + jar(360, 440, 200, 310, bubbles(360, 410)) + jar(620, 440, 160, 240, bubbles(620, 415)),
  taste:
    ground +
    jar(
      380,
      440,
      210,
      300,
      `<rect x="290" y="270" width="180" height="150" rx="10" fill="${colours.leaf}" opacity=".8"/>`,
    ) +
    `<path d="M640 120l30 250" stroke="#8C8C88" stroke-width="12"/><path d="M620 60v70m20 -74v74m20 -78v78" stroke="#8C8C88" stroke-width="8"/><path d="M600 80q40 -40 90 0q-10 40 -45 36t-45 -36z" fill="${colours.leaf}"/>`,
  shelf:
    `<rect width="960" height="540" fill="${colours.wall}"/><rect y="255" width="960" height="16" fill="${colours.shade}"/><rect y="490" width="960" height="50" fill="${colours.table}"/>` +
    [120, 300, 480, 660, 840].map((x, i) => jar(x, 255, 110, 120 + (i % 3) * 20)).join("") +
    [170, 390, 610, 810].map((x, i) => (i % 2 ? crock(x, 490, 130, 150) : jar(x, 490, 130, 150))).join(""),
  tray:
    ground +
    `<path d="M180 430l60 -130h480l60 130z" fill="${colours.shade}"/><path d="M220 415l45 -100h430l45 100z" fill="${colours.salt}"/>${Array.from({ length: 60 }, (_, i) => `<ellipse cx="${270 + ((i * 71) % 420)}" cy="${325 + ((i * 29) % 80)}" rx="9" ry="4" fill="${colours.brine}"/>`).join("")}`,
} as const

export type Scene = keyof typeof scenes
export const lessonScenes = ["cabbage", "knead", "weight", "bubbles", "taste"] as const satisfies readonly Scene[]

export function drawScene(scene: Scene): Promise<Buffer> {
  return sharp(
    Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 960 540" width="960" height="540">${scenes[scene]}</svg>`,
    ),
  )
    .png()
    .toBuffer()
}
