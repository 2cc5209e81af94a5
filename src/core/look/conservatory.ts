import { band, type LookModule } from "./kind"

export const conservatory: LookModule = {
  name: "Conservatory",
  says: "Green-grey and much air, everything centred, arches and pills, a soft geometric sans",
  bands: {
    plain: band("#E9EBDF", "#F6F7F0", "#22352A", "#4E6053", "#C7CEB9", "#2F5233", "#FFFFFF"),
    tinted: band("#DCE2CF", "#EEF1E6", "#22352A", "#475A4C", "#B7C2A6", "#2F5233", "#FFFFFF"),
    dark: band("#22392A", "#2C4735", "#F3F5EA", "#C6D2C0", "#4B6653", "#CFE0B0", "#1B2E21"),
  },
  pair: "outfit",
  corners: { box: "28px", field: "18px", button: "999px", picture: "28px" },
  headline: { size: "clamp(2.4rem,5vw,3.75rem)", leading: 1.12, tracking: "-.02em" },
  first: "centred",
  css: "h1,h2,h3{font-weight:500}h2,.way,.above{text-align:center}main.wide :is(h2,.section>p,.section>ul){margin-inline:auto}.head{justify-content:center}footer,.price>p,.section>div:not([class]){text-align:center}.section>div:not([class])>*{margin-inline:auto}",
  forms: {
    first:
      ".first .show img{border-radius:50vw 50vw var(--rp) var(--rp);aspect-ratio:1}.first.centred .show img{max-width:min(21rem,62vw);margin-inline:auto}",
    form: "form{border-radius:var(--r)}form .go{border-radius:999px}",
    price: ".ways>li{border-color:transparent;text-align:center}",
    lessons:
      ".lessons li{border:0}.lessons li::before{background:var(--c);border-radius:50%;width:2rem;height:2rem;display:grid;place-items:center}",
    teacher:
      ".teacher{text-align:center;grid-template-columns:1fr!important}.teacher img{border-radius:50%;margin-inline:auto}.teacher>*{margin-inline:auto}",
    quotes: ".quotes>li{text-align:center}.quotes figcaption{justify-content:center}",
  },
}
