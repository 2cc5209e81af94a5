// What an installation is told from outside, read once from the environment that `heron` sets.
import { randomBytes } from "node:crypto"
import { resolve } from "node:path"
import type { CardsConfig } from "./port/cards"
import type { MeetingConfig } from "./port/meeting"

export type Config = {
  readonly databaseUrl: string
  /** Scheme, host and port of every link; never taken from a request. */
  readonly origin: string
  /** Signs links and file addresses; 32 bytes or more. */
  readonly secret: string
  /** Sets this installation's cookies apart from another's on the same host. */
  readonly installation: string
  /** Demo and test have the stand-ins and a clock that moves. */
  readonly mode: "demo" | "own" | "test"
  readonly dataFolder: string
  readonly mediaFolder: string
  readonly mailboxFolder: string
  /** Whether the stand-in mailbox is there: in demo and tests, and in a school that was started with it. */
  readonly hasMailbox: boolean
  readonly smtpUrl: string
  /** The name server that records are looked up at; empty: that of this machine. */
  readonly nameServer: string
  /** The card processor and the meeting service that the environment names; null: they are connected in Settings. */
  readonly cards: CardsConfig | null
  readonly meeting: MeetingConfig | null
  /** What stands for them until they are connected: no money moves, and a film plays. Null: there is none. */
  readonly standIns: { readonly cards: CardsConfig | null; readonly meeting: MeetingConfig | null }
  /** The program that makes films narrower, where this machine has it. */
  readonly ffmpeg: string
  /** How long a worker may hold what it has claimed, ms of real time. */
  readonly leaseMs: number
  /** What whoever opens the school must know, since the command printed it; empty: nothing is asked. */
  readonly openingCode: string
  /** Whether the last hop of X-Forwarded-For is a proxy of ours. */
  readonly trustProxy: boolean
}

export function configFromEnvironment(env: NodeJS.ProcessEnv = process.env): Config {
  const data = resolve(/* turbopackIgnore: true */ env.HERON_DATA ?? ".data")
  const mode = env.HERON_MODE === "demo" || env.HERON_MODE === "test" ? env.HERON_MODE : "own"
  return {
    databaseUrl: env.DATABASE_URL ?? "",
    origin: env.HERON_ORIGIN ?? "http://localhost:4700",
    secret: env.HERON_SECRET ?? randomBytes(32).toString("hex"),
    installation: env.HERON_INSTALLATION ?? "heron",
    mode,
    dataFolder: data,
    mediaFolder: resolve(/* turbopackIgnore: true */ data, "media"),
    mailboxFolder: resolve(/* turbopackIgnore: true */ data, "mailbox"),
    hasMailbox: mode !== "own" || env.HERON_MAILBOX === "1",
    smtpUrl: env.SMTP_URL ?? "",
    nameServer: env.HERON_NAME_SERVER ?? "",
    cards: env.CARDS_URL
      ? { url: env.CARDS_URL, key: env.CARDS_KEY ?? "", hookSecret: env.CARDS_HOOK_SECRET ?? "" }
      : null,
    meeting: env.MEETING_URL ? { url: env.MEETING_URL, key: env.MEETING_KEY ?? "" } : null,
    standIns: {
      cards: env.HERON_TEST_CARDS_URL
        ? {
            url: env.HERON_TEST_CARDS_URL,
            key: env.HERON_TEST_CARDS_KEY ?? "",
            hookSecret: env.HERON_TEST_CARDS_HOOK_SECRET ?? "",
          }
        : null,
      meeting: env.HERON_TEST_MEETING_URL
        ? { url: env.HERON_TEST_MEETING_URL, key: env.HERON_TEST_MEETING_KEY ?? "" }
        : null,
    },
    ffmpeg: env.HERON_FFMPEG ?? "ffmpeg",
    leaseMs: Number(env.HERON_LEASE_MS ?? 60_000),
    openingCode: env.HERON_OPENING_CODE ?? (mode === "own" ? randomBytes(16).toString("hex") : ""),
    trustProxy: env.HERON_TRUST_PROXY === "1",
  }
}
