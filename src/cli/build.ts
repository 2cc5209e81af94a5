// Building: the studio and the learning area when their sources have changed since the last time, the processes at each start.
import { spawn } from "node:child_process"
import { createHash } from "node:crypto"
import { existsSync, readdirSync, readFileSync, writeFileSync } from "node:fs"
import { join } from "node:path"
import { build } from "esbuild"
import { progress, Stop } from "./say"

const sources = [
  "src/app",
  "src/ui",
  "src/core",
  "src/server",
  "src/standins",
  "next.config.ts",
  "package-lock.json",
  "postcss.config.mjs",
  "tsconfig.json",
]

export async function buildIfChanged(distDir: string): Promise<void> {
  const stamp = join(distDir, "heron-stamp")
  const fingerprint = fingerprintOf(sources)
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === fingerprint) return
  progress("Building …")
  const output: string[] = []
  const next = spawn(process.execPath, ["node_modules/next/dist/bin/next", "build"], {
    env: { ...process.env, HERON_DIST: distDir, NODE_ENV: "production", NEXT_TELEMETRY_DISABLED: "1" },
    stdio: ["ignore", "pipe", "pipe"],
  })
  next.stdout.on("data", (d) => output.push(String(d)))
  next.stderr.on("data", (d) => output.push(String(d)))
  const code = await new Promise((done) => next.on("close", done))
  if (code !== 0) throw new Stop(`The build failed:\n${output.join("").slice(-6000)}`)
  writeFileSync(stamp, fingerprint)
  progress("Built.")
}

/** Where each process of a school begins. */
const mains = {
  mailbox: "src/standins/mailbox/main.ts",
  names: "src/standins/names/main.ts",
  processor: "src/standins/processor/main.ts",
  meeting: "src/standins/meeting/main.ts",
  worker: "src/worker/main.ts",
  web: "src/front/main.ts",
} as const

export type Process = keyof typeof mains

/** The programs of the processes, each one file, which starts in a fraction of the time; gives where they are. */
export async function buildProcesses(distDir: string): Promise<(name: Process) => string> {
  const outdir = `${distDir}-processes`
  await build({
    entryPoints: mains,
    outdir,
    bundle: true,
    splitting: true,
    packages: "external",
    platform: "node",
    format: "esm",
    target: "node20",
    sourcemap: true,
    outExtension: { ".js": ".mjs" },
  })
  return (name) => join(outdir, `${name}.mjs`)
}

function fingerprintOf(paths: readonly string[]): string {
  const hash = createHash("sha256")
  const add = (path: string) => hash.update(path).update("\0").update(readFileSync(path)).update("\0")
  for (const path of paths) {
    if (path.includes(".")) add(path)
    else
      for (const entry of readdirSync(path, { recursive: true, withFileTypes: true }).sort((a, b) =>
        join(a.parentPath, a.name) < join(b.parentPath, b.name) ? -1 : 1,
      ))
        if (entry.isFile() && !entry.name.endsWith(".test.ts")) add(join(entry.parentPath, entry.name))
  }
  return hash.digest("hex")
}
