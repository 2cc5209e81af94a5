import { band, type LookModule } from "./kind"

export const nightfall: LookModule = {
  name: "Nightfall",
  says: "A dark ground, the picture behind the words, one amber action, thin outlines",
  bands: {
    plain: band("#0E1726", "#16233A", "#F5F1E6", "#B4BDCB", "#3A4A63", "#F2AC3C", "#1D1302"),
    tinted: band("#15223A", "#0E1726", "#F5F1E6", "#B9C2D0", "#435573", "#F2AC3C", "#1D1302"),
    dark: band("#060B14", "#101B2E", "#F5F1E6", "#B4BDCB", "#33425A", "#F2AC3C", "#1D1302"),
  },
  pair: "space-grotesk",
  corners: { box: "4px", field: "4px", button: "4px", picture: "4px" },
  headline: { size: "clamp(2.5rem,5.6vw,4.3rem)", leading: 1.08, tracking: "-.025em" },
  first: "behind",
  css: "h1,h2,h3{font-weight:500}",
  forms: {
    price: ".ways>li{background:none}",
    quotes: ".quotes>li{background:none;border:1px solid var(--l)}",
  },
}
