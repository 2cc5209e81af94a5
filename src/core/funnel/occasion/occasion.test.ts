// An occasion is set off by something that really happens: each has its happening in the server, or in an effect.
import { readdirSync, readFileSync } from "node:fs"
import { expect, it } from "vitest"
import { occasions } from "./list"

const texts = ["src/server", "src/core/sequence/effect"].flatMap((folder) =>
  readdirSync(folder, { recursive: true, encoding: "utf8" })
    .filter((f) => f.endsWith(".ts") && !f.endsWith(".test.ts"))
    .map((f) => readFileSync(`${folder}/${f}`, "utf8"))
    .filter((text) => /\bhappens?\(/.test(text)),
)

it.each(Object.entries(occasions))("%s happens", (_, { happens }) => {
  expect(texts.some((text) => text.includes(`"${happens}"`))).toBe(true)
})
