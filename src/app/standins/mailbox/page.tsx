import { simpleParser } from "mailparser"
import { locale } from "@/core/words/locale"
import { listMessages, rawMessage } from "@/standins/mailbox/store"
import { Link, TextLink } from "@/ui/link"
import { mailboxFolder } from "./open"

export const metadata = { title: "Mailbox stand-in" }

type Asked = { to?: string; id?: string; source?: string }

/** Everybody's mailbox: what the demo school has sent, as its receivers would read it. */
export default async function Mailbox({ searchParams }: { searchParams: Promise<Asked> }) {
  const folder = mailboxFolder()
  const asked = await searchParams
  const messages = (await listMessages(folder, asked.to || undefined)).slice(0, 200)
  const id = Number(asked.id) || messages[0]?.id
  const raw = id ? await rawMessage(folder, id) : undefined
  const mail = raw && (await simpleParser(raw))
  const link = (change: Asked) =>
    `/standins/mailbox?${new URLSearchParams(Object.entries({ ...(asked.to ? { to: asked.to } : {}), ...change }).filter((e): e is [string, string] => Boolean(e[1])))}`
  const date = (iso: string) =>
    new Intl.DateTimeFormat(locale, { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" }).format(
      new Date(iso),
    )
  return (
    <div className="flex h-screen flex-col">
      <header className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line px-5 py-2.5">
        <h1 className="text-[1.25rem]">Mailbox stand-in</h1>
        <p className="text-note text-soft">Everything the school sends ends here, and nowhere else.</p>
        <search className="ml-auto">
          <form className="flex gap-2">
            <input
              name="to"
              type="search"
              aria-label="Only messages to"
              placeholder="Only to this address"
              defaultValue={asked.to}
              className="w-48 rounded-md sm:w-64 border border-line bg-card px-2.5 py-1"
            />
            <button type="submit" className="rounded-md border border-line bg-card px-3 font-semibold">
              Show
            </button>
          </form>
        </search>
      </header>
      {messages.length === 0 ? (
        <main className="p-8">
          <h2>{asked.to ? `Nothing has come for ${asked.to}.` : "Nothing has come yet"}</h2>
          {asked.to ? null : (
            <p className="mt-1">Join on the opt-in page, or move the clock on in the studio, and look again.</p>
          )}
        </main>
      ) : (
        <div className="grid min-h-0 flex-1 grid-cols-1 sm:grid-cols-[22rem_1fr]">
          <nav aria-label="Messages" className="overflow-auto border-r border-line">
            <ul>
              {messages.map((m) => (
                <li key={m.id}>
                  <Link
                    href={link({ id: String(m.id) })}
                    aria-current={m.id === id ? "true" : undefined}
                    className={`block border-b border-line px-5 py-2 ${m.id === id ? "bg-card shadow-[inset_3px_0_0_var(--slate)]" : "hover:bg-card"}`}
                  >
                    <span className="block truncate font-semibold">{m.subject}</span>
                    <span className="flex justify-between gap-3 text-label text-soft">
                      <span className="truncate">to {m.to.join(", ")}</span>
                      <span className="whitespace-nowrap">{date(m.date)}</span>
                    </span>
                  </Link>
                </li>
              ))}
            </ul>
          </nav>
          <main className="flex min-h-0 flex-col">
            {mail && raw ? (
              <>
                <div className="border-b border-line px-5 py-3">
                  <h2 className="text-lg">{mail.subject}</h2>
                  <p className="text-note text-soft">
                    from {mail.from?.text} to{" "}
                    {Array.isArray(mail.to) ? mail.to.map((t) => t.text).join(", ") : mail.to?.text}
                  </p>
                  <p className="mt-1 text-note">
                    <TextLink href={link({ id: String(id), ...(asked.source ? {} : { source: "1" }) })}>
                      {asked.source ? "Read it" : "Its source"}
                    </TextLink>
                  </p>
                </div>
                {asked.source ? (
                  <pre className="min-h-0 flex-1 overflow-auto bg-card p-5 text-fine whitespace-pre-wrap">
                    {raw.toString("utf8")}
                  </pre>
                ) : (
                  <iframe
                    title={mail.subject ?? "message"}
                    src={`/standins/mailbox/messages/${id}/html`}
                    sandbox="allow-top-navigation-by-user-activation"
                    className="min-h-0 w-full flex-1 bg-white"
                  />
                )}
              </>
            ) : null}
          </main>
        </div>
      )}
    </div>
  )
}
