// The looks a school can have: their colours and type.

export const looks = {
  harvest: {
    name: "Harvest: cream, deep brown, paprika",
    ground: "#FBF6EC",
    raised: "#F1E8D8",
    ink: "#2A2019",
    soft: "#665648",
    action: "#A8431A",
    onAction: "#FFFFFF",
    line: "#DCCFB9",
    heading: "'Bricolage Grotesque', Verdana, Arial, sans-serif",
    radius: "8px",
  },
  shore: {
    name: "Shore: white, navy, sea green",
    ground: "#FFFFFF",
    raised: "#EDF4F3",
    ink: "#12283A",
    soft: "#4C6272",
    action: "#0F6A63",
    onAction: "#FFFFFF",
    line: "#CFDDDD",
    heading: "'Public Sans', system-ui, sans-serif",
    radius: "999px",
  },
  lamplight: {
    name: "Lamplight: dark, warm white, yellow",
    ground: "#1B1A1E",
    raised: "#28262C",
    ink: "#F5EFE4",
    soft: "#BDB4A6",
    action: "#E9B949",
    onAction: "#241C05",
    line: "#433F49",
    heading: "'Bricolage Grotesque', Verdana, Arial, sans-serif",
    radius: "3px",
  },
} as const

export type Look = keyof typeof looks

export function isLook(name: string): name is Look {
  return Object.hasOwn(looks, name)
}
