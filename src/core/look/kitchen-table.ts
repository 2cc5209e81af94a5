import { band, type LookModule } from "./kind"

export const kitchenTable: LookModule = {
  name: "Kitchen table",
  says: "Warm paper, an old-style serif with weight, round corners, words beside the picture",
  bands: {
    plain: band("#FBF6EA", "#FFFFFF", "#2B1D14", "#6B5546", "#E3D3B8", "#A33A14", "#FFFFFF"),
    tinted: band("#F3E8D3", "#FBF6EA", "#2B1D14", "#665140", "#DCC8A6", "#A33A14", "#FFFFFF", "#98350F"),
    dark: band("#3A2318", "#4A2F22", "#FBF6EA", "#DEC9B4", "#6B4C3B", "#E89A6B", "#2B1408"),
  },
  pair: "fraunces-karla",
  corners: { box: "20px", field: "12px", button: "12px", picture: "28px" },
  headline: { size: "clamp(2.5rem,5.4vw,4.1rem)", leading: 1.06, tracking: "-.015em" },
  first: "beside",
  css: "",
  forms: {
    teacher: ".teacher img{border-radius:var(--rp) var(--rp) 4px 4px}",
  },
}
