// The programs of pages as browsers get them: `npx vitest run --project unit src/browser/built.test.ts -u` after a change of one.
import { readdirSync } from "node:fs"
import { dirname } from "node:path"
import { fileURLToPath } from "node:url"
import { build } from "esbuild"
import { expect, it } from "vitest"

const here = dirname(fileURLToPath(import.meta.url))
/** `clock.ts` is a part of others. */
const programs = readdirSync(here)
  .filter((f) => f.endsWith(".ts") && !f.endsWith(".test.ts") && f !== "clock.ts")
  .sort()

it("are built from what stands here", async () => {
  const built = await build({
    entryPoints: programs.map((f) => `${here}/${f}`),
    outdir: here,
    bundle: true,
    minify: true,
    format: "iife",
    target: "es2022",
    charset: "utf8",
    write: false,
    // Without the "use strict" that the types ask for: modules of one scope have nothing to gain by it.
    tsconfigRaw: "{}",
    alias: { "@": dirname(here) },
  })
  const lines = built.outputFiles.map((file, i) => {
    const text = file.text.trim()
    // Nothing inside may end the element in which it stands.
    expect(text).not.toMatch(/<\/script|<!--/i)
    return `  ${JSON.stringify(programs[i]!.slice(0, -3))}: ${JSON.stringify(text)},`
  })
  await expect(
    `// Made from src/browser by its built.test.ts, which fails when this is stale; not to be written by hand.\n\nexport const scripts = {\n${lines.join("\n")}\n} as const\n`,
  ).toMatchFileSnapshot("../core/page/scripts.ts")
})
