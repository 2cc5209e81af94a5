import { band, type LookModule } from "./kind"

export const workshop: LookModule = {
  name: "Workshop",
  says: "A visible grid in ink, a monospace for labels and numbers, one strong blue, square corners",
  bands: {
    plain: band("#FAFAF6", "#FFFFFF", "#121212", "#55554F", "#121212", "#1D47D6", "#FFFFFF"),
    tinted: band("#EBEEF8", "#FFFFFF", "#121212", "#4D4D4A", "#121212", "#1D47D6", "#FFFFFF"),
    dark: band("#121212", "#1E1E1E", "#FAFAF6", "#C6C6BF", "#FAFAF6", "#8FA8FF", "#0B1233"),
  },
  pair: "instrument-plex",
  corners: { box: "0", field: "0", button: "0", picture: "0" },
  headline: { size: "clamp(2.4rem,4.8vw,3.75rem)", leading: 1.06, tracking: "-.03em" },
  first: "beside",
  css: "h1,h2,h3{font-weight:700}:is(main,.rest)>.section{border-top:1.5px solid var(--l);margin-block:0}.head{border-bottom:1.5px solid var(--l);font-size:.95rem}.above,.head,.m,.lessons li::before{font-family:var(--fl)}input,select,textarea,.pick,.ways>li,form{border-width:1.5px!important}form{border:1.5px solid var(--l)}",
  forms: {
    first:
      ".first{padding-block:0!important;border-bottom:1.5px solid var(--l)}.first .words{padding-block:clamp(2rem,4vw,3.5rem)}.first .show{margin-inline:-1.375rem;border-top:1.5px solid var(--l)}.first ul:not([class]){list-style:none;padding:0;counter-reset:f;max-width:none}.first ul:not([class]) li{counter-increment:f;padding:.8rem 0;border-top:1.5px solid var(--l);margin:0}.first ul:not([class]) li::before{content:counter(f,decimal-leading-zero);display:block;font:.85rem var(--fl);color:var(--e)}@media(min-width:56rem){.first:is(.beside,.form){align-items:stretch;gap:0!important}.first:is(.beside,.form) .words{padding-inline-end:3rem}.first:is(.beside,.form) .show{margin-inline:0;border-top:0;border-inline-start:1.5px solid var(--l)}.first.form .show{padding-inline-start:3rem}.first.beside .show :is(img,video){height:100%!important;aspect-ratio:auto!important;position:absolute;inset:0}.first.beside .show{position:relative;min-height:30rem}.first ul:not([class]){display:grid;grid-template-columns:1fr 1fr;gap:0 1.5rem}}",
    price:
      ".ways{gap:0!important}.ways>li+li{border-inline-start:0}.ways>li:first-child{box-shadow:inset 0 0 0 3px var(--a);border-color:var(--l)!important}",
    quotes: ".quotes{gap:0!important}.quotes>li{border:1.5px solid var(--l);margin:0 -1.5px -1.5px 0!important}",
    columns:
      ".columns{gap:0!important}.columns>*{border:1.5px solid var(--l);padding:1.25rem;margin:0 -1.5px -1.5px 0!important}",
  },
}
