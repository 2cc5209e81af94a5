import { band, type LookModule } from "./kind"

export const marketPoster: LookModule = {
  name: "Market poster",
  says: "One loud ground, capitals as large as they go, a picture cut at a slant, a contrasting action",
  bands: {
    plain: band("#FFFFFF", "#FFF4D6", "#1C0F0A", "#5E4A42", "#1C0F0A", "#FFD63D", "#1C0F0A", "#B3261A"),
    tinted: band("#FFE9A8", "#FFFFFF", "#1C0F0A", "#5B4538", "#1C0F0A", "#B3261A", "#FFFFFF", "#A01F14"),
    dark: band("#7A1710", "#8E2219", "#FFF8E8", "#FFDCCB", "#B65A4C", "#FFD63D", "#1C0F0A", "#FFD63D"),
    first: band("#C92F1F", "#A92418", "#FFFFFF", "#FFEDE4", "#FFFFFF", "#FFD63D", "#1C0F0A", "#FFF2C4"),
  },
  pair: "barlow-karla",
  corners: { box: "0", field: "0", button: "0", picture: "0" },
  headline: { size: "clamp(3.25rem,9.4vw,7.25rem)", leading: 0.94, tracking: "-.005em", capitals: true },
  first: "beside",
  css: ".long{font-size:clamp(2.75rem,6.6vw,5.25rem)}.head{position:absolute;color:#fff;background:none;z-index:1}.go{text-transform:uppercase;font-family:var(--fd);font-size:1.3rem;letter-spacing:.02em}",
  forms: {
    first:
      ".first{padding-top:5rem!important}@media(min-width:56rem){.first.beside{position:relative;min-height:38rem;grid-template-columns:minmax(0,1.5fr) minmax(0,1fr)}.first.beside .words{z-index:1}.first.beside .show{position:absolute;inset-block:5rem 0;inset-inline:56% 0}.first.beside .show :is(img,video){height:100%!important;aspect-ratio:auto!important;clip-path:polygon(18% 0,100% 0,100% 100%,0 100%)}}@media(max-width:55.99rem){.first.beside .show img{clip-path:polygon(0 12%,100% 0,100% 100%,0 100%)}}",
    price: ".ways>li{border:0!important;background:var(--c)}.ways>li:first-child{box-shadow:inset 0 6px 0 var(--e)}",
    quotes: ".quotes>li{border:0}",
  },
}
