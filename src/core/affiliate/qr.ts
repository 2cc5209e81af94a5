// A link as a QR code (ISO/IEC 18004), as a drawing that can be printed at any size.
import { create } from "qrcode"

/** As SVG, with the quiet zone of four modules that the standard asks for; dark on light in any theme. */
export function qrSvg(text: string): string {
  const { modules } = create(text, { errorCorrectionLevel: "M" })
  const size = modules.size + 8
  const rows: string[] = []
  for (let y = 0; y < modules.size; y++)
    for (let x = 0; x < modules.size; x++) {
      if (!modules.get(y, x)) continue
      let wide = 1
      while (x + wide < modules.size && modules.get(y, x + wide)) wide++
      rows.push(`M${x + 4} ${y + 4}h${wide}v1h-${wide}z`)
      x += wide - 1
    }
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${size} ${size}" shape-rendering="crispEdges"><path fill="#fff" d="M0 0h${size}v${size}H0z"/><path fill="#14262d" d="${rows.join("")}"/></svg>`
}
