// heron test: type-check, lint, unused code, and every test, ending with a line that counts them.
import { spawn } from "node:child_process"
import { existsSync, mkdirSync, readFileSync, rmSync } from "node:fs"
import { ensureDebian } from "./debian"
import { progress, say } from "./say"

type Report = { readonly numPassedTests: number; readonly numFailedTests: number; readonly numFailedTestSuites: number }

/** Runs everything, or only the test files whose names contain one of the words; gives the exit code. */
export async function runTests(words: readonly string[]): Promise<number> {
  ensureDebian("mariadb", "chromium")
  let passed = 0
  let failed = 0
  const count = (good: boolean) => {
    if (good) passed++
    else failed++
  }
  mkdirSync(".test", { recursive: true })
  const project = async (name: string) => {
    progress(`Tests: ${name} …`)
    const report = `.test/report-${name}-${process.pid}.json`
    const code = await run("node_modules/vitest/vitest.mjs", [
      "run",
      "--project",
      name,
      "--passWithNoTests",
      "--reporter=default",
      "--reporter=json",
      `--outputFile=${report}`,
      ...words,
    ])
    const read = existsSync(report) ? (JSON.parse(readFileSync(report, "utf8")) as Report) : null
    rmSync(report, { force: true })
    passed += read?.numPassedTests ?? 0
    failed += read?.numFailedTests ?? 0
    if (code !== 0 && !read?.numFailedTests) failed++
  }
  const checks = async () => {
    if (words.length) return
    progress("Types, lint and format, unused code …")
    count((await run("node_modules/typescript/bin/tsc", ["--noEmit"])) === 0)
    count((await run("node_modules/@biomejs/biome/bin/biome", ["check", "--error-on-warnings", "."])) === 0)
    count((await run("node_modules/knip/bin/knip.js", [])) === 0)
  }
  // The core's tests leave a core to the checks; after that one project after the other: the browser tests want both.
  await Promise.all([checks(), project("unit")])
  await project("server")
  await project("browser")
  say(`\n${passed} passed, ${failed} failed`)
  return failed || !passed ? 1 : 0
}

function run(script: string, args: readonly string[]): Promise<number> {
  return new Promise((done) => {
    spawn(process.execPath, [script, ...args], {
      stdio: ["ignore", "inherit", "inherit"],
      env: { ...process.env, NO_COLOR: "1", FORCE_COLOR: "0" },
    }).on("close", (code) => done(code ?? 1))
  })
}
