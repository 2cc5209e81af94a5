// The port to a meeting service, which carries what a host says to a room, and the one behind it: HTTP. A room is known to it by a key of
// ours that can't be guessed.

export type MeetingConfig = { readonly url: string; readonly key: string }

export type Stream = { readonly url: string; readonly type: string }

export type Meeting = {
  /** Where its streams come from. */
  readonly origin: string
  /** From here on a room has a stream; a second time changes nothing. Throws where the service can't be reached. */
  begin(room: string): Promise<void>
  end(room: string): Promise<void>
  /** What a browser plays while the room has a stream. */
  streamOf(room: string): Stream
}

/** How long an answer is waited for, ms. */
const patience = 5_000

export function httpMeeting({ url, key }: MeetingConfig): Meeting {
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
    begin: (room) => tell(room, "PUT"),
    end: (room) => tell(room, "DELETE"),
    streamOf: (room) => ({ url: `${url}/streams/${room}`, type: "video/mp4" }),
  }
}
