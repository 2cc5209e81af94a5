// Who has a port of this machine, as far as Linux tells.
import { readdirSync, readFileSync, readlinkSync } from "node:fs"
import { freePort } from "./installation"
import { Stop } from "./say"

/** The port where it is free; otherwise stops and says who has it. */
export async function portOrStop(port: number): Promise<void> {
  if ((await freePort(port)) === port) return
  const who = listenerOf(port)
  throw new Stop(
    `Port ${port} is taken${who ? ` by ${who.name} (process ${who.pid})` : ""}. End it, or choose another with --port.`,
  )
}

/** The process that listens on a port, or null where that can't be told. */
export function listenerOf(port: number): { pid: number; name: string } | null {
  const inode = inodeOf(port)
  if (inode === null) return null
  for (const pid of readdirSync("/proc").filter((name) => /^\d+$/.test(name)))
    try {
      const fds = readdirSync(`/proc/${pid}/fd`)
      if (fds.some((fd) => linkOf(`/proc/${pid}/fd/${fd}`) === `socket:[${inode}]`))
        return { pid: Number(pid), name: commandOf(pid) }
    } catch {
      // another's process, or one that has ended
    }
  return null
}

/** Of the listening socket (state 0A), as proc(5) describes /proc/net/tcp. */
function inodeOf(port: number): string | null {
  const wanted = `:${port.toString(16).toUpperCase().padStart(4, "0")}`
  for (const table of ["/proc/net/tcp", "/proc/net/tcp6"])
    try {
      for (const line of readFileSync(table, "utf8").split("\n").slice(1)) {
        const field = line.trim().split(/\s+/)
        if (field[1]?.endsWith(wanted) && field[3] === "0A") return field[9] ?? null
      }
    } catch {
      // no such table here
    }
  return null
}

function linkOf(path: string): string {
  try {
    return readlinkSync(path)
  } catch {
    return ""
  }
}

function commandOf(pid: string): string {
  const parts = readFileSync(`/proc/${pid}/cmdline`, "utf8").split("\0").filter(Boolean)
  return parts
    .map((part, i) => (i === 0 ? (part.split("/").at(-1) ?? part) : part))
    .join(" ")
    .slice(0, 120)
}
