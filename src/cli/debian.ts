// What must come from Debian's packages, installed when it is missing and that is allowed.
import { execFileSync, spawnSync } from "node:child_process"
import { existsSync } from "node:fs"
import { progress, Stop } from "./say"

const parts = {
  mariadb: {
    programs: ["/usr/sbin/mariadbd", "/usr/bin/mariadb-install-db"],
    packages: ["mariadb-server-core", "mariadb-client-core"],
  },
  chromium: { programs: ["/usr/bin/chromium"], packages: ["chromium", "fonts-dejavu-core", "fonts-noto-core"] },
} as const

/** Makes sure the named parts are there; without root it stops and says which packages to install. */
export function ensureDebian(...wanted: (keyof typeof parts)[]): void {
  const missing = wanted.filter((p) => !parts[p].programs.every((x) => existsSync(x)))
  if (!missing.length) return
  const packages = missing.flatMap((p) => parts[p].packages)
  if (process.getuid?.() !== 0 || !existsSync("/usr/bin/apt-get"))
    throw new Stop(
      `Swift Heron needs Debian packages that are missing here. As root:\n\n  apt-get install --no-install-recommends ${packages.join(" ")}\n\nThen start again.`,
    )
  progress(`Installing ${packages.join(", ")} from Debian's packages …`)
  const env = { ...process.env, DEBIAN_FRONTEND: "noninteractive" }
  const install = () =>
    spawnSync("apt-get", ["install", "-y", "-q", "--no-install-recommends", ...packages], { env, encoding: "utf8" })
  let done = install()
  if (done.status !== 0) {
    execFileSync("apt-get", ["update", "-q"], { env, stdio: "ignore" })
    done = install()
  }
  if (done.status !== 0)
    throw new Stop(`apt-get could not install ${packages.join(", ")}:\n${done.stderr.slice(-2000)}`)
}
