// The port to a meeting service, which carries what a host says to a room, and the one behind it: HTTP. A room is known to it by a key of
// ours that can't be guessed.

import { randomBytes } from "node:crypto"
import { refusals } from "@/core/words/refusals"
import type { Refused } from "../saved"

export type MeetingConfig = { readonly url: string; readonly key: string }

export type MeetingStream = { readonly url: string; readonly type: string }

export type Meeting = {
  /** Where its streams come from. */
  readonly origin: string
  /** The stand-in: a film plays. */
  readonly test: boolean
  /** From here on a room has a stream; a second time changes nothing. Throws where the service can't be reached. */
  begin(room: string): Promise<void>
  end(room: string): Promise<void>
  /** What a browser plays while the room has a stream. */
  streamOf(room: string): MeetingStream
}

/** How long an answer is waited for, ms. */
const patience = 5_000

export function httpMeeting({ url, key }: MeetingConfig, test = false): Meeting {
  const tell = async (room: string, method: "PUT" | "DELETE") => {
    const res = await fetch(`${url}/rooms/${room}`, {
      method,
      headers: { authorization: `Bearer ${key}` },
      signal: AbortSignal.timeout(patience),
    })
    if (!res.ok) throw new Error(`the meeting service answered ${res.status}`)
  }
  return {
    origin: new URL(url).origin,
    test,
    begin: (room) => tell(room, "PUT"),
    end: (room) => tell(room, "DELETE"),
    streamOf: (room) => ({ url: `${url}/streams/${room}`, type: "video/mp4" }),
  }
}

/** Begins a room that nobody knows of and ends it, or says what is wrong. */
export async function tryMeeting(meeting: Meeting): Promise<{ ok: true } | Refused> {
  const room = `try-${randomBytes(12).toString("hex")}`
  try {
    await meeting.begin(room)
    await meeting.end(room)
    return { ok: true }
  } catch (error) {
    return { refused: refusals.meeting.noAnswer(String((error as Error).message ?? error)) }
  }
}
