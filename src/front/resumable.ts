// Large uploads, by the tus protocol (1.0.0), so that what was cut off goes on where it stood, also after a start anew. The bytes wait in
// a folder of their own until `POST /studio/upload?upload=…` makes a film or a file of them.
import { randomBytes } from "node:crypto"
import type { IncomingMessage, ServerResponse } from "node:http"
import { FileStore } from "@tus/file-store"
import { Server } from "@tus/server"
import { largest, uploadsFolder } from "@/server/media/store"
import { sessionCookie, studioSessionOf } from "@/server/person/session"
import type { HttpAnswer, Request } from "./exchange"
import { commonHeaders } from "./policy"
import type { Front } from "./reply"
import { fromElsewhere, signInAgain } from "./upload"

export const resumablePath = "studio/resumable"

/** What nobody went on with for two days goes. */
const keptFor = 2 * 86_400_000

const servers = new WeakMap<Front, Server>()

function serverOf(front: Front): Server {
  const known = servers.get(front)
  if (known) return known
  const server = new Server({
    path: `/${resumablePath}`,
    datastore: new FileStore({
      directory: uploadsFolder(front.s.config),
      expirationPeriodInMilliseconds: keptFor,
    }),
    maxSize: largest.video,
    relativeLocation: true,
    allowedOrigins: [front.s.config.origin],
    // The name that it will be kept under, so that making it twice is making it once.
    namingFunction: () => randomBytes(12).toString("hex"),
    async onUploadCreate() {
      await server.cleanUpExpiredUploads().catch((error) => front.s.log.warn(error))
      return {}
    },
  })
  servers.set(front, server)
  return server
}

/** Answers a request of the protocol to whoever is signed in to the studio. */
export async function takeResumable(
  front: Front,
  request: Request,
  req: IncomingMessage,
  res: ServerResponse,
): Promise<HttpAnswer | "answered"> {
  if (fromElsewhere(front, request)) return fromElsewhere(front, request)!
  const token = request.cookies[sessionCookie(front.s.config, "studio")]
  if ((await studioSessionOf(front.s.db, token)) === null) return signInAgain
  for (const [name, value] of Object.entries(commonHeaders)) res.setHeader(name, value)
  await serverOf(front).handle(req, res)
  return "answered"
}
