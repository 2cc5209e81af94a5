// The domains of the server have an order and import downwards only; whoever must call upwards listens (listeners.ts).
import { readdirSync, readFileSync } from "node:fs"
import { dirname, join, relative } from "node:path"
import { expect, it } from "vitest"

const order = [
  "ground",
  "media",
  "page",
  "person",
  "course",
  "offer",
  "programme",
  "webinar",
  "notice",
  "mail",
  "sequence",
  "broadcast",
  "funnel",
  "ledger",
  "affiliate",
  "calendar",
  "top",
] as const
/** What puts the domains together. */
const top = ["due-list.ts", "today.ts", "health.ts", "listeners.ts", "open.ts", "upgrade.ts"]
const ground = ["db", "port", "draw"]
const root = "src/server"

function domainOf(file: string): string {
  const [first = "", ...rest] = relative(root, file).split("/")
  if (rest.length === 0) return top.includes(first) ? "top" : "ground"
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
  expect([...new Set(files.map(domainOf))].filter((d) => !(order as readonly string[]).includes(d))).toEqual([])
})

it("imports downwards only", () => {
  const rank = (domain: string) => (order as readonly string[]).indexOf(domain)
  expect(imports.filter((i) => rank(i.to) > rank(i.from)).map((i) => `${i.file} imports ${i.to}`)).toEqual([])
})
