// The domains of the core and of the server have an order each, and import downwards only, types too; who must call upwards in the
// server listens (listeners.ts).
import { readdirSync, readFileSync } from "node:fs"
import { dirname, join, relative } from "node:path"
import { describe, expect, it } from "vitest"

const layers = {
  "src/core": {
    order: "ground look calendar offer person course webinar page mail sequence funnel ledger affiliate numbers".split(
      " ",
    ),
    /** Folders that belong to the ground, as the files beside the domains do. */
    ground: ["words"],
    top: [],
  },
  "src/server": {
    order:
      "ground media page person course offer programme webinar notice mail sequence broadcast funnel ledger affiliate numbers calendar top".split(
        " ",
      ),
    ground: ["db", "port", "draw"],
    /** What puts the domains together. */
    top: ["due-list.ts", "today.ts", "health.ts", "listeners.ts", "open.ts", "upgrade.ts"],
  },
}

describe.each(Object.entries(layers))("%s", (root, { order, ground, top }) => {
  const domainOf = (file: string): string => {
    const [first = "", ...rest] = relative(root, file).split("/")
    if (rest.length === 0) return (top as string[]).includes(first) ? "top" : "ground"
    return ground.includes(first) ? "ground" : first
  }
  const files = readdirSync(root, { recursive: true, encoding: "utf8" })
    .filter((f) => f.endsWith(".ts") && !f.endsWith(".test.ts"))
    .map((f) => join(root, f))
  const imports = files.flatMap((file) =>
    [...readFileSync(file, "utf8").matchAll(/^(?:import|export)[^;]*?from "(\.[^"]+)"/gms)].map((m) => ({
      file,
      from: domainOf(file),
      to: domainOf(`${join(dirname(file), m[1]!)}.ts`),
    })),
  )

  it("knows every domain", () => {
    expect(imports.length).toBeGreaterThan(300)
    expect([...new Set(files.map(domainOf))].filter((d) => !order.includes(d))).toEqual([])
  })

  it("imports downwards only", () => {
    const up = imports.filter((i) => order.indexOf(i.to) > order.indexOf(i.from))
    expect(up.map((i) => `${i.file} imports ${i.to}`)).toEqual([])
  })

  it("names its own files by their place beside, so that nothing passes unseen", () => {
    const alias = root.replace("src", "@")
    expect(files.filter((f) => readFileSync(f, "utf8").includes(`from "${alias}/`))).toEqual([])
  })
})
