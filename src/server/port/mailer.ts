// The port to outgoing mail, and SMTP behind it.
import type { Readable } from "node:stream"
import nodemailer from "nodemailer"
import MailComposer from "nodemailer/lib/mail-composer"
import { ed25519Signature, signedFields } from "./ed25519"

/** An entry for a calendar, as its programs read it from a mail. */
export type CalendarPart = { readonly method: "REQUEST" | "CANCEL"; readonly content: string }

/** A file that goes along with a mail. */
export type Attached = { readonly filename: string; readonly contentType: string; readonly content: Uint8Array }

export type Message = {
  readonly messageId: string
  readonly from: { readonly name: string; readonly address: string }
  readonly replyTo?: string
  readonly to: { readonly name: string; readonly address: string }
  readonly subject: string
  /** Business time. */
  readonly date: Date
  readonly html: string
  readonly text: string
  readonly headers: Readonly<Record<string, string>>
  readonly calendar?: CalendarPart
  readonly attached?: Attached
  /** Where it is reported that it could not be delivered; the sender's where not given. */
  readonly returnPath?: string
  /** Keys that it is signed with: RSA, and Ed25519 beside it. */
  readonly dkim?: DkimKeys
}

/** A key that mail is signed with (RFC 6376): PEM. */
export type DkimKey = { readonly domainName: string; readonly keySelector: string; readonly privateKey: string }

export type DkimKeys = { readonly rsa: DkimKey; readonly ed25519: DkimKey | null }

/** What went wrong, as far as the server said. */
export class MailTrouble extends Error {
  /** SMTP reply code; undefined where there was no answer. */
  readonly reply: number | undefined
  /** Whether the server said it of this receiver. */
  readonly receiver: boolean
  /** Whether the whole message had gone out and no answer came: it may have arrived. */
  readonly sent: boolean
  constructor(message: string, of: { reply?: number; receiver?: boolean; sent?: boolean } = {}) {
    super(message)
    this.reply = of.reply
    this.receiver = of.receiver ?? false
    this.sent = of.sent ?? false
  }
}

export type Mailer = {
  /** Resolves once the server has taken the message; otherwise throws MailTrouble. */
  send(message: Message): Promise<void>
  /** Where mail is handed over, such as mail.example:587; empty: nowhere. */
  readonly server: string
  /** Null where the server answers and takes our sign-in, otherwise what it said. */
  verify(): Promise<string | null>
  close(): void
}

/** nodemailer leaves out the field by which one click unsubscribes, which RFC 8058, 4 wants signed. */
const signedSo = (key: DkimKey) => ({ ...key, headerFieldNames: signedFields.join(":") })

/** Connections kept open to the server. */
export const mailLanes = 8

export function smtpMailer(url: string): Mailer {
  if (!url)
    return {
      send: async () => {
        throw new MailTrouble("no mail server is set: SMTP_URL is empty")
      },
      server: "",
      verify: async () => "no mail server is connected",
      close: () => {},
    }
  const at = new URL(url)
  const transport = nodemailer.createTransport({
    pool: true,
    host: at.hostname,
    port: Number(at.port || 587),
    secure: at.protocol === "smtps:",
    auth: at.username ? { user: decodeURIComponent(at.username), pass: decodeURIComponent(at.password) } : undefined,
    ignoreTLS: ["127.0.0.1", "localhost", "[::1]"].includes(at.hostname),
    maxConnections: mailLanes,
    maxMessages: Number.POSITIVE_INFINITY,
    // By itself it offers a message again whose connection was closed, also one that had gone out.
    maxRequeues: 0,
    connectionTimeout: 10_000,
    greetingTimeout: 10_000,
    socketTimeout: 20_000,
    disableFileAccess: true,
    disableUrlAccess: true,
  })
  // A message is read once the server has asked for it. When it has been read to its end, it is on the wire.
  const wentOut = new WeakSet<object>()
  transport.use("stream", (mail, done) => {
    const message = mail.message as { createReadStream(options?: object): Readable }
    const create = message.createReadStream.bind(message)
    message.createReadStream = (options) =>
      create(options).once("end", () => wentOut.add((mail.data as { envelope: object }).envelope))
    done()
  })
  const offer = async (m: Message, envelope: { from: string; to: string }) => {
    const { returnPath: _, dkim, calendar, attached, ...message } = m
    const mail = {
      ...message,
      headers: { ...m.headers },
      ...(calendar ? { icalEvent: { ...calendar } } : {}),
      ...(attached ? { attachments: [{ ...attached, content: Buffer.from(attached.content) }] } : {}),
    }
    if (!dkim?.ed25519) return transport.sendMail({ ...mail, envelope, ...(dkim ? { dkim: signedSo(dkim.rsa) } : {}) })
    const raw = await new MailComposer({ ...mail, newline: "\r\n" }).compile().build()
    const signature = ed25519Signature(raw, dkim.ed25519, Date.now())
    return transport.sendMail({
      raw: Buffer.concat([Buffer.from(signature), raw]),
      envelope,
      dkim: signedSo(dkim.rsa),
    })
  }
  return {
    async send(m) {
      for (let tries = 1; ; tries++) {
        const envelope = { from: m.returnPath ?? m.from.address, to: m.to.address }
        try {
          await offer(m, envelope)
          return
        } catch (error) {
          const e = error as { message: string; responseCode?: number; command?: string; code?: string }
          const sent = e.responseCode === undefined && wentOut.has(envelope)
          // A connection that had been closed meanwhile says so only when it is used.
          if (e.code === "ECONNECTION" && !sent && tries === 1) continue
          throw new MailTrouble(e.message, { reply: e.responseCode, receiver: e.command === "RCPT TO", sent })
        }
      }
    },
    server: at.host,
    verify: () =>
      transport.verify().then(
        () => null,
        (error: Error) => error.message.slice(0, 300),
      ),
    close: () => transport.close(),
  }
}
