import { band, type LookModule } from "./kind"

export const pantry: LookModule = {
  name: "Pantry",
  says: "Milk white and sage, pictures in the outline of a jar, cards like labels with a second line, a scalloped edge",
  bands: {
    plain: band("#FFFDF5", "#F1F3E6", "#232B45", "#545C74", "#CBD0D8", "#B5371F", "#FFFFFF"),
    tinted: band("#E3EBDD", "#FFFDF5", "#232B45", "#4C556C", "#B4C2B4", "#B5371F", "#FFFFFF", "#9C2C17"),
    dark: band("#2A3354", "#374169", "#FFFDF5", "#CDD2E2", "#55608A", "#F6D267", "#2A2205"),
  },
  pair: "bricolage-public",
  corners: { box: "6px", field: "6px", button: "999px 999px 6px 6px", picture: "22% 22% 5% 5%/14% 14% 4% 4%" },
  headline: { size: "clamp(2.5rem,5.6vw,4.25rem)", leading: 1.02, tracking: "-.02em" },
  first: "beside",
  css: ".go{border-radius:1.6rem 1.6rem .45rem .45rem}:is(main,.rest)>.section:not(.plain)::before{content:'';position:absolute;inset:-10px 0 auto;height:20px;background:radial-gradient(circle at 50% 10px,var(--g) 10px,#0000 10.5px) 50%/24px 20px repeat-x}:is(main,.rest)>.section{position:relative}",
  forms: {
    price:
      ".ways>li{outline:1px solid var(--l);outline-offset:-7px;padding:1.6rem 1.7rem}.ways>li:first-child{outline-color:var(--a)}",
    quotes: ".quotes>li{outline:1px solid var(--l);outline-offset:-7px}",
    form: "main form{outline:1px solid var(--l);outline-offset:-7px;padding:1.6rem}",
  },
}
