import { band, type LookModule } from "./kind"

export const broadsheet: LookModule = {
  name: "Broadsheet",
  says: "White, black and hairlines, a very large text serif over columns, pictures in grey",
  bands: {
    plain: band("#FDFDFB", "#FDFDFB", "#111111", "#55534E", "#111111", "#111111", "#FFFFFF"),
    tinted: band("#F1F0EB", "#FDFDFB", "#111111", "#55534E", "#111111", "#111111", "#FFFFFF"),
    dark: band("#111111", "#1D1D1C", "#FDFDFB", "#C9C7C0", "#FDFDFB", "#FDFDFB", "#111111"),
  },
  pair: "newsreader",
  corners: { box: "0", field: "0", button: "0", picture: "0" },
  headline: { size: "clamp(2.75rem,8.6vw,6.5rem)", leading: 0.98, tracking: "-.03em" },
  first: "beside",
  css: "h1,h2,h3{font-weight:450}.head{border-bottom:1px solid}img,video{filter:grayscale(1)}:is(main,.rest)>.plain:not(.first)>:first-child,.plain>h2:first-child{border-top:1px solid;padding-top:1rem}",
  forms: {
    first:
      "@media(min-width:56rem){.first:is(.beside,.form){grid-template-columns:repeat(3,minmax(0,1fr));gap:0 2.5rem;align-items:start}.first:is(.beside,.form) .words{display:contents}.first:is(.beside,.form) .words>*{grid-column:1/3;max-width:34rem}.first:is(.beside,.form) h1{grid-column:1/-1!important;max-width:none!important;border-bottom:1px solid;padding-bottom:.3em;margin-bottom:.45em}.first:is(.beside,.form) .above{grid-column:1/-1!important}.first:is(.beside,.form) .show{grid-column:3;grid-row:2/span 9}.first:is(.beside,.form):has(.above) .show{grid-row:3/span 9}}",
    form: "form{background:none;padding:0}",
    price: ".ways>li{border-width:1px 0 0}.ways>li:first-child{border-width:4px 0 0}",
    quotes: ".quotes>li{border:0;border-top:1px solid;padding:1rem 0 0;background:none}",
  },
}
