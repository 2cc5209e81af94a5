// The one place where screens and actions ask: may this person?
import "server-only"
import { cookies, headers } from "next/headers"
import { redirect } from "next/navigation"
import { type Affiliate, affiliateOf } from "@/server/affiliate/affiliate"
import { actingAs, type Context } from "@/server/context"
import { openContext } from "@/server/open"
import { hasOwner } from "@/server/person/account"
import {
  type Admitted,
  actorOf,
  admittedOf,
  type Device,
  isSecure,
  type Learner,
  portalPersonOf,
  type Realm,
  type StudioSession,
  sessionCookie,
  sessionMs,
  signedIn,
  studioSessionOf,
  visitorCookie,
} from "@/server/person/session"

const shared = globalThis as typeof globalThis & { heronSurroundings?: Context }

export function context(): Context {
  shared.heronSurroundings ??= openContext(undefined, "web")
  return shared.heronSurroundings
}

/** The context, for whoever may work in the studio; anyone else is sent to sign in. */
export async function studio(): Promise<Context> {
  const { account } = await studioSession()
  return actingAs(context(), { is: "account", id: account })
}

/** Who is in the studio; anyone else is sent to sign in. */
export async function studioSession(): Promise<StudioSession> {
  const s = context()
  const session = await studioSessionOf(s.db, await tokenOf("studio"))
  if (session === null) redirect((await hasOwner(s.db)) ? "/studio/sign-in" : "/studio/first")
  return session
}

/** The context, for a learner who acts. */
export function learning(who: Admitted): Context {
  return actingAs(context(), actorOf(who))
}

/** The person signed in to the portal for affiliates, or null. */
export async function portalPerson(): Promise<number | null> {
  return portalPersonOf(context().db, await tokenOf("affiliate"))
}

/** The affiliate who is here; anyone else is sent to sign in, or to where they can join. */
export async function affiliateHere(): Promise<Affiliate> {
  const person = await portalPerson()
  if (person === null) redirect("/affiliate/sign-in")
  const found = await affiliateOf(context().db, person)
  if (!found) redirect("/affiliate/programmes")
  return found
}

/** The same, of somebody who can recommend now; anyone else is shown what there is for them. */
export async function activeAffiliateHere(): Promise<Affiliate> {
  const a = await affiliateHere()
  if (a.state !== "active") redirect("/affiliate")
  return a
}

/** The context, for an affiliate who acts. */
export function recommending(a: Pick<Affiliate, "id">): Context {
  return actingAs(context(), { is: "affiliate", id: a.id })
}

/** Who is let into the learning area on this device, or null. */
export async function admitted(): Promise<Admitted | null> {
  return admittedOf(context().db, await tokenOf("learn"))
}

/** Who is signed in to the learning area, or null; null also for a device that is known by an order alone. */
export async function learner(): Promise<Learner | null> {
  return signedIn(await admitted())
}

export async function tokenOf(realm: Realm): Promise<string | undefined> {
  return (await cookies()).get(sessionCookie(context().config, realm))?.value
}

export async function keepSession(realm: Realm, token: string): Promise<void> {
  const { config } = context()
  ;(await cookies()).set(sessionCookie(config, realm), token, {
    httpOnly: true,
    sameSite: "lax",
    secure: isSecure(config),
    path: "/",
    maxAge: sessionMs[realm] / 1000,
  })
}

/** The cookie is taken away, and with the learner's the first-party id by which this device's orders know it. */
export async function dropSession(realm: Realm): Promise<void> {
  const { config } = context()
  const jar = await cookies()
  for (const name of [sessionCookie(config, realm), ...(realm === "learn" ? [visitorCookie(config)] : [])])
    jar.set(name, "", { httpOnly: true, sameSite: "lax", secure: isSecure(config), path: "/", maxAge: 0 })
}

/** This browser, as what signs somebody in wants it. */
export async function thisDevice(): Promise<Device> {
  const { config } = context()
  const visitor = (await cookies()).get(visitorCookie(config))?.value
  return {
    ...(await tokenOf("learn").then((token) => (token ? { token } : {}))),
    visitor: visitor && /^[A-Za-z0-9_-]{22}$/.test(visitor) ? Buffer.from(visitor, "base64url") : null,
    agent: (await headers()).get("user-agent") ?? undefined,
  }
}

export async function addressOfCaller(): Promise<string> {
  // The front server has set it to what it knows.
  return ((await headers()).get("x-forwarded-for") ?? "").slice(0, 45)
}
