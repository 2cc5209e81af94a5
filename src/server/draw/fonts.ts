// The fonts of sheets that are taken away as PDF, read once.
import { readFile } from "node:fs/promises"
import { join } from "node:path"
import type { SheetFonts } from "@/core/sheet"

const read = new Map<string, Promise<SheetFonts>>()

export function sheetFonts(face: "Serif" | "Sans"): Promise<SheetFonts> {
  const font = (name: string) => readFile(join(process.cwd(), "node_modules/dejavu-fonts-ttf/ttf", `${name}.ttf`))
  const known =
    read.get(face) ??
    Promise.all([font(`DejaVu${face}`), font(`DejaVu${face}-Bold`), font("DejaVuSans-Bold")]).then(
      ([plain, bold, other]): SheetFonts => ({ plain, bold, other }),
    )
  read.set(face, known)
  return known
}
