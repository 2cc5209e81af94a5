// The one place where screens and actions ask: may this person?
import "server-only"
import { cookies, headers } from "next/headers"
import { redirect } from "next/navigation"
import { hasOwner } from "@/server/person/account"
import { type Learner, learnerOf, type Realm, sessionCookie, sessionMs, whoIs } from "@/server/person/session"
import { openSurroundings, type Surroundings } from "@/server/surroundings"

const shared = globalThis as typeof globalThis & { heronSurroundings?: Surroundings }

export function surroundings(): Surroundings {
  shared.heronSurroundings ??= openSurroundings(undefined, "web")
  return shared.heronSurroundings
}

/** The surroundings, for whoever may work in the studio; anyone else is sent to sign in. */
export async function studio(): Promise<Surroundings> {
  const s = surroundings()
  const account = await whoIs(s.db, "studio", await tokenOf("studio"))
  if (account === null) redirect((await hasOwner(s)) ? "/studio/sign-in" : "/studio/first")
  return s
}

/** The person signed in to the learning area, or null. */
export async function learner(): Promise<Learner | null> {
  return learnerOf(surroundings().db, await tokenOf("learn"))
}

export async function tokenOf(realm: Realm): Promise<string | undefined> {
  return (await cookies()).get(sessionCookie(surroundings().config.installation, realm))?.value
}

export async function keepSession(realm: Realm, token: string): Promise<void> {
  const { installation, origin } = surroundings().config
  ;(await cookies()).set(sessionCookie(installation, realm), token, {
    httpOnly: true,
    sameSite: "lax",
    secure: origin.startsWith("https:"),
    path: "/",
    maxAge: sessionMs[realm] / 1000,
  })
}

export async function dropSession(realm: Realm): Promise<void> {
  ;(await cookies()).delete(sessionCookie(surroundings().config.installation, realm))
}

export async function addressOfCaller(): Promise<string> {
  // The front server has set it to what it knows.
  return ((await headers()).get("x-forwarded-for") ?? "").slice(0, 45)
}
