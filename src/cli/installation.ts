// An installation: one data folder with its secrets, made on the first start and readable by its owner only.
import { createHmac, randomBytes } from "node:crypto"
import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs"
import { createServer } from "node:net"
import { join, resolve } from "node:path"

export type Installation = {
  readonly folder: string
  readonly name: string
  readonly secret: string
  readonly databasePassword: string
}

export function openInstallation(folder: string): Installation {
  const at = resolve(folder)
  mkdirSync(at, { recursive: true, mode: 0o700 })
  const file = join(at, "heron.json")
  if (!existsSync(file)) {
    const made = {
      name: randomBytes(4).toString("hex"),
      secret: randomBytes(32).toString("hex"),
      databasePassword: randomBytes(18).toString("hex"),
    }
    writeFileSync(file, JSON.stringify(made, null, 2), { mode: 0o600 })
  }
  return { folder: at, ...(JSON.parse(readFileSync(file, "utf8")) as Omit<Installation, "folder">) }
}

/** A secret for one purpose, made from the installation's own. */
export function secretFor(installation: Installation, purpose: string): string {
  return createHmac("sha256", installation.secret).update(purpose).digest("base64url")
}

/** What whoever opens the school must type, so that nobody else does: eight letters and digits that can't be mistaken. */
export function openingCode(installation: Installation): string {
  const letters = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"
  const bytes = createHmac("sha256", installation.secret).update("opening code").digest()
  return [...bytes.subarray(0, 8)].map((b) => letters[b % letters.length]).join("")
}

/** The wanted port of the loopback where it is free, otherwise one that is. */
export async function freePort(wanted = 0): Promise<number> {
  const take = (port: number) =>
    new Promise<number | null>((done) => {
      const server = createServer()
      server.once("error", () => done(null))
      server.listen(port, "127.0.0.1", () => {
        const at = server.address()
        server.close(() => done(typeof at === "object" && at ? at.port : null))
      })
    })
  return (wanted ? await take(wanted) : null) ?? (await take(0))!
}
