// Uploads: the bytes of one file as the body, straight to the disk. The school's own from the studio, and what learners and
// affiliates hand in.
import type { IncomingMessage } from "node:http"
import { refusals } from "@/core/words/refusals"
import { affiliateOf } from "@/server/affiliate/affiliate"
import { handInBonus } from "@/server/affiliate/bonus"
import { actingAs } from "@/server/context"
import { takeHandedIn } from "@/server/course/hand-in"
import {
  largest,
  type MediaKind,
  mediaLink,
  type StoredMedia,
  storeMedia,
  storeUploaded,
  tooLarge,
} from "@/server/media/store"
import { keepImport, largestImport } from "@/server/person/import"
import { admittedOf, portalPersonOf, sessionCookie, signedIn, studioSessionOf } from "@/server/person/session"
import type { HttpAnswer, Request } from "./exchange"
import { commonHeaders } from "./policy"
import type { Front } from "./reply"

const schoolKinds: readonly string[] = ["picture", "video", "file"] satisfies MediaKind[]

type Take = (front: Front, request: Request, body: IncomingMessage) => Promise<StoredMedia | HttpAnswer>

/** What takes a file, by its path. */
export const uploads: Readonly<Record<string, Take>> = {
  async "studio/upload"({ s }, request, body) {
    const token = request.cookies[sessionCookie(s.config, "studio")]
    if ((await studioSessionOf(s.db, token)) === null) return signInAgain
    const kind = request.query.get("kind") ?? ""
    if (!schoolKinds.includes(kind)) return said(400, { refused: "Choose a file." })
    const upload = request.query.get("upload")
    if (upload) return (await storeUploaded(s, kind as MediaKind, nameIn(request), upload)) ?? goneAway
    return await withinSize(request, kind as MediaKind, () => storeMedia(s, kind as MediaKind, nameIn(request), body))
  },
  async "studio/import"({ s }, request, body) {
    const token = request.cookies[sessionCookie(s.config, "studio")]
    if ((await studioSessionOf(s.db, token)) === null) return signInAgain
    if (Number(request.headers["content-length"] ?? 0) > largestImport)
      return said(413, { refused: refusals.person.importTooLarge })
    const kept = await keepImport(s, nameIn(request), body)
    return "refused" in kept ? said(422, kept) : said(200, kept)
  },
  async "learn/hand-in"({ s }, request, body) {
    const who = signedIn(await admittedOf(s.db, request.cookies[sessionCookie(s.config, "learn")]))
    if (who === null) return signInAgain
    const { query } = request
    const at = {
      slug: query.get("course") ?? "",
      lesson: Number(query.get("lesson")) || 0,
      block: query.get("block") ?? "",
    }
    return withinSize(request, "handed-in", () => takeHandedIn(s, who, at, nameIn(request), body))
  },
  async "affiliate/bonus"({ s }, request, body) {
    const person = await portalPersonOf(s.db, request.cookies[sessionCookie(s.config, "affiliate")])
    const who = person === null ? undefined : await affiliateOf(s.db, person)
    if (!who) return signInAgain
    const offer = Number(request.query.get("programme")) || 0
    return withinSize(request, "handed-in", () =>
      handInBonus(actingAs(s, { is: "affiliate", id: who.id }), who.id, offer, nameIn(request), body),
    )
  },
}

export async function takeUpload(front: Front, request: Request, body: IncomingMessage): Promise<HttpAnswer> {
  const elsewhere = fromElsewhere(front, request)
  if (elsewhere) return elsewhere
  const stored = await uploads[request.path]!(front, request, body)
  if ("status" in stored) return stored
  return "refused" in stored
    ? said(tooLarges.includes(stored.refused) ? 413 : 422, stored)
    : said(200, { id: stored.id, url: linkTo(front, stored.stored), name: nameIn(request) })
}

/** Where what was sent up is found: pictures are open, the rest is for whoever sent it. */
const linkTo = ({ s }: Front, stored: string) =>
  stored.endsWith(".webp") ? `/media/${stored}` : mediaLink(s.config, stored, Date.now())

/** The refusal of what another site's page sends. */
export const fromElsewhere = (front: Front, { headers: { origin } }: Request): HttpAnswer | undefined =>
  origin !== undefined && origin !== front.s.config.origin
    ? said(403, { refused: "This came from another site." })
    : undefined

const tooLarges = (Object.keys(largest) as (keyof typeof largest)[]).map(tooLarge)

/** What says that it is too large isn't read. */
async function withinSize(
  request: Request,
  kind: keyof typeof largest,
  take: () => Promise<StoredMedia>,
): Promise<StoredMedia | HttpAnswer> {
  return Number(request.headers["content-length"] ?? 0) > largest[kind] ? { refused: tooLarge(kind) } : take()
}

const nameIn = (request: Request) => (request.query.get("name") ?? "").slice(0, 300)

const said = (status: number, what: object): HttpAnswer => ({
  status,
  headers: { ...commonHeaders, "content-type": "application/json", "cache-control": "no-store" },
  body: JSON.stringify(what),
})

export const signInAgain = said(401, { refused: "Sign in again, please." })
const goneAway = said(410, { refused: refusals.file.uploadGone })
