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

/** A jar with what ferments in it, standing on y: lid, shine, the line of the brine, bubbles. */
function full(x: number, y: number, w: number, h: number, inside: string, dark: string): string {
  const [left, top] = [x - w / 2, y - h]
  const bubbles = Array.from({ length: 9 }, (_, i) => {
    const r = w * (0.02 + (i % 3) * 0.018)
    return `<circle cx="${left + w * (0.18 + ((i * 37) % 64) / 100)}" cy="${y - h * (0.14 + ((i * 23) % 50) / 100)}" r="${r}" fill="#fff" opacity=".38"/>`
  }).join("")
  const brine = y - h * 0.72
  return `<path d="M${left} ${y - w * 0.1}V${top + h * 0.16}q0 -${h * 0.06} ${w * 0.12} -${h * 0.07}h${w * 0.76}q${w * 0.12} ${h * 0.01} ${w * 0.12} ${h * 0.07}V${y - w * 0.1}q0 ${w * 0.1} -${w * 0.1} ${w * 0.1}H${left + w * 0.1}q-${w * 0.1} 0 -${w * 0.1} -${w * 0.1}z" fill="#EEF2EC"/><path d="M${left + w * 0.05} ${brine}q${w * 0.22} -${h * 0.03} ${w * 0.45} 0t${w * 0.45} 0V${y - w * 0.14}q0 ${w * 0.09} -${w * 0.09} ${w * 0.09}H${left + w * 0.14}q-${w * 0.09} 0 -${w * 0.09} -${w * 0.09}z" fill="${inside}"/><path d="M${left + w * 0.05} ${y - h * 0.4}q${w * 0.3} ${h * 0.05} ${w * 0.9} -${h * 0.03}V${y - w * 0.14}q0 ${w * 0.09} -${w * 0.09} ${w * 0.09}H${left + w * 0.14}q-${w * 0.09} 0 -${w * 0.09} -${w * 0.09}z" fill="${dark}" opacity=".45"/>${bubbles}<rect x="${left + w * 0.1}" y="${top}" width="${w * 0.8}" height="${h * 0.12}" rx="${w * 0.05}" fill="#5B3A22"/><rect x="${left + w * 0.1}" y="${top + h * 0.085}" width="${w * 0.8}" height="${h * 0.035}" fill="#44290F"/><path d="M${left + w * 0.14} ${top + h * 0.24}V${y - h * 0.2}" stroke="#fff" stroke-width="${w * 0.045}" stroke-linecap="round" opacity=".55"/>`
}

const leafy = (x: number, y: number, r: number) =>
  `<ellipse cx="${x}" cy="${y}" rx="${r * 1.12}" ry="${r * 0.86}" fill="#8FAE6B"/><path d="M${x - r} ${y}q${r} -${r * 1.5} ${r * 2} 0q-${r} ${r * 0.4} -${r * 2} 0" fill="#A9C586"/><g stroke="#E4EFD2" stroke-width="${r * 0.05}" fill="none"><path d="M${x} ${y + r * 0.8}V${y - r * 0.7}"/><path d="M${x} ${y + r * 0.5}q-${r * 0.5} -${r * 0.3} -${r * 0.75} -${r * 0.8}M${x} ${y + r * 0.5}q${r * 0.5} -${r * 0.3} ${r * 0.75} -${r * 0.8}M${x} ${y}q-${r * 0.3} -${r * 0.2} -${r * 0.4} -${r * 0.55}M${x} ${y}q${r * 0.3} -${r * 0.2} ${r * 0.4} -${r * 0.55}"/></g>`

const carrot = (x: number, y: number, s: number) =>
  `<path d="M${x} ${y}q${s * 0.9} -${s * 0.35} ${s * 1.7} ${s * 0.12}q-${s * 0.9} ${s * 0.4} -${s * 1.7} -${s * 0.12}" fill="#DD7A3C"/><path d="M${x + s * 1.65} ${y + s * 0.1}q${s * 0.35} -${s * 0.4} ${s * 0.6} -${s * 0.3}M${x + s * 1.65} ${y + s * 0.1}q${s * 0.4} -${s * 0.1} ${s * 0.65} ${s * 0.1}" stroke="#6F8C3F" stroke-width="${s * 0.08}" fill="none"/>`

/** A head and shoulders in a few flat shapes. */
function portrait(
  wall: string,
  skin: string,
  hair: string,
  cloth: string,
  cut: "long" | "short" | "bun" | "curls",
): string {
  const back = {
    long: `<path d="M180 300q-30 -210 120 -210t120 210v120h-240z" fill="${hair}"/>`,
    short: "",
    bun: `<circle cx="300" cy="95" r="52" fill="${hair}"/>`,
    curls: [170, 215, 265, 335, 385, 430]
      .map((x, i) => `<circle cx="${x}" cy="${210 - (i % 5 ? 55 : 0)}" r="62" fill="${hair}"/>`)
      .join(""),
  }[cut]
  return `<rect width="600" height="600" fill="${wall}"/><circle cx="470" cy="140" r="120" fill="#fff" opacity=".22"/>${back}<path d="M60 600q20 -170 170 -190h140q150 20 170 190z" fill="${cloth}"/><path d="M245 340h110v80q-55 55 -110 0z" fill="${skin}"/><path d="M245 372q55 45 110 0v22q-55 45 -110 0z" fill="#000" opacity=".1"/><ellipse cx="300" cy="270" rx="98" ry="118" fill="${skin}"/><path d="M198 265q-6 -140 102 -140t102 140q-22 -74 -92 -84q-34 56 -112 84z" fill="${hair}"/><g fill="#2B201A"><circle cx="262" cy="276" r="8"/><circle cx="338" cy="276" r="8"/></g><path d="M262 322q38 32 76 0" stroke="#2B201A" stroke-width="6" fill="none" stroke-linecap="round"/><path d="M240 252q20 -14 42 -3M318 249q22 -11 42 3" stroke="${hair}" stroke-width="7" fill="none" stroke-linecap="round"/>`
}

const kitchen = (wall: string, table: string, light: string) =>
  `<rect width="1200" height="1200" fill="${wall}"/><circle cx="900" cy="330" r="260" fill="${light}"/><path d="M0 880h1200v320H0z" fill="${table}"/><path d="M0 880h1200v26H0z" fill="#000" opacity=".14"/>`

/** Larger pictures, as squares: what stands at the top of a page, and people. */
const squares = {
  year:
    kitchen("#E7C99C", "#8A5A34", "#F5E3BE") +
    full(240, 905, 250, 440, "#CFA23A", "#A87A1C") +
    full(610, 935, 330, 620, "#B24030", "#842519") +
    full(960, 905, 250, 470, "#7F9440", "#5B6B28") +
    leafy(400, 1010, 150) +
    carrot(720, 1060, 150),
  jar:
    kitchen("#D9E3D3", "#6E7F6A", "#F2F0DC") +
    full(420, 925, 360, 640, "#D9CF8C", "#B5A95A") +
    leafy(830, 960, 190) +
    `<path d="M240 1072q90 -70 180 0z" fill="#FBF8F0"/><ellipse cx="330" cy="1078" rx="140" ry="32" fill="#B98A63"/>`,
  maren: portrait("#C9905B", "#EFC9A4", "#5A3520", "#5F7A3A", "bun"),
  hana: portrait("#8FA65A", "#F1D3B2", "#241A16", "#E9E4D2", "long"),
  tomasz: portrait("#CFA23A", "#EBC3A0", "#8A5A34", "#2A3354", "short"),
  zora: portrait("#A8402C", "#8C5A3C", "#20140E", "#F1E0C0", "curls"),
} as const

export type Square = keyof typeof squares

export function drawSquare(square: Square): Promise<Buffer> {
  const size = square === "year" || square === "jar" ? 1200 : 600
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${size} ${size}" width="${size}" height="${size}">${squares[square]}</svg>`
  return sharp(Buffer.from(svg)).png().toBuffer()
}

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
