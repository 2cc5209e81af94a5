import { studio } from "@/app/guard"
import { moneyText } from "@/core/offer/money"
import { countedAs } from "@/core/words/figures"
import { locale } from "@/core/words/locale"
import { readToday, type ToDo, type Today, type Week } from "@/server/today"
import { Button } from "@/ui/button"
import { Link } from "@/ui/link"
import { soon } from "./words"

export const metadata = { title: "Today" }

export default async function TodayPage() {
  const s = await studio()
  const today = await readToday(s)
  if (today.toDo) return <FirstDays toDo={today.toDo} />
  return (
    <div className="mx-auto max-w-3xl pt-6">
      <h1>Today</h1>
      <ul className="mt-5 space-y-6 text-[1.15rem] leading-relaxed">
        <li>
          <p>
            In the last seven days <strong>{today.week.visited.toLocaleString(locale)}</strong> visited, and{" "}
            <strong>{today.week.newPeople.toLocaleString(locale)}</strong> are new.{" "}
            {comparison(today.week, today.before)}
          </p>
          {today.week.orders + today.before.orders > 0 ? (
            <p className="mt-2">
              <strong>{orders(today.week.orders)}</strong> were paid, and <strong>{taken(today.week)}</strong> came in;
              in the seven days before it was {orders(today.before.orders)} and {taken(today.before)}.
            </p>
          ) : null}
          <p className="mt-2 text-note text-soft">{countedAs(["visited", "newPeople", "orders"])}</p>
          <p className="mt-2 text-base">
            <Button asChild>
              <Link href="/studio/funnels">Look at the river</Link>
            </Button>{" "}
            {today.week.orders + today.before.orders > 0 ? (
              <Button asChild>
                <Link href="/studio/ledger">Look at the orders</Link>
              </Button>
            ) : null}
          </p>
        </li>
        <li>
          {today.broken.length === 0 ? (
            <p>
              <span className="rounded bg-reed-wash px-1.5 text-reed">Nothing is broken.</span> Every live page leads
              somewhere, and the mail goes out.
            </p>
          ) : (
            <>
              <p>
                <span className="rounded bg-amber-wash px-1.5 text-amber-text">
                  {today.broken.length === 1 ? "One thing needs a hand." : `${today.broken.length} things need a hand.`}
                </span>
              </p>
              <ul className="mt-2 space-y-2 text-base">
                {today.broken.map((b) => (
                  <li
                    key={b.words}
                    className="flex flex-wrap items-center justify-between gap-3 border-t border-line pt-2"
                  >
                    <span className="min-w-0 flex-1">{b.words}</span>
                    <Button asChild look="warn">
                      <a href={b.href}>{b.says}</a>
                    </Button>
                  </li>
                ))}
              </ul>
            </>
          )}
        </li>
        {today.webinar ? (
          <li>
            <p>
              Next webinar: <strong>{soon(today.webinar.at, today.now, today.zone)}</strong>, “{today.webinar.title}”.{" "}
              {seatWords(today.webinar)}
            </p>
            <p className="mt-2 text-base">
              <Button asChild>
                <Link href={`/studio/calendar/webinars/${today.webinar.webinar}`}>Open the webinar</Link>
              </Button>
            </p>
          </li>
        ) : null}
        <li>
          <p>{nextWords(today)}</p>
          {today.next ? (
            <p className="mt-2 text-base">
              <Button asChild>
                <Link href="/studio/mail/due">See what is due</Link>
              </Button>
            </p>
          ) : null}
        </li>
      </ul>
    </div>
  )
}

function taken(week: Week): string {
  return week.money.map((m) => moneyText(m.amount, m.currency)).join(" and ") || "nothing"
}

const orders = (n: number) => (n === 1 ? "1 order" : `${n.toLocaleString(locale)} orders`)

function comparison(week: Week, before: Week): string {
  if (before.visited === 0 && before.newPeople === 0) return "In the seven days before nobody visited."
  const differ = (a: number, b: number) =>
    a === b ? "as many" : `${Math.abs(a - b).toLocaleString(locale)} ${a > b ? "more" : "fewer"}`
  return `Compared with the seven days before, ${differ(week.visited, before.visited)} visited, and ${differ(week.newPeople, before.newPeople)} were new.`
}

/** How many have a seat, and how that compares with as long before the last ones. */
function seatWords({ registered, before }: NonNullable<Today["webinar"]>): string {
  const now =
    registered === 0
      ? "Nobody has a seat yet"
      : registered === 1
        ? "1 person has a seat"
        : `${registered.toLocaleString(locale)} people have a seat`
  if (!before.length) return `${now}.`
  if (before.length === 1) return `${now}; as long before the last one it was ${before[0]}.`
  return `${now}; as long before the last ${["two", "three", "four"][before.length - 2]} it was ${[...before]
    .reverse()
    .join(", ")
    .replace(/, (\d+)$/, " and $1")}.`
}

function nextWords(today: Today): string {
  if (!today.next) return "Nothing is due: no e-mail is waiting to be sent."
  const { at, mails, sequence } = today.next
  const when = soon(at, today.now, today.zone)
  if (mails === 1)
    return sequence ? `Next e-mail: ${when}, from “${sequence}”.` : `Next e-mail: ${when}, one that somebody asked for.`
  const many = `${mails.toLocaleString(locale)} e-mails go out within the hour`
  return sequence ? `Next, ${when}: ${many}, the first from “${sequence}”.` : `Next, ${when}: ${many}.`
}

/** What is left to do until the first funnel is live. */
function FirstDays({ toDo }: { toDo: readonly ToDo[] }) {
  const next = toDo.findIndex((t) => !t.done)
  const left = toDo.filter((t) => !t.done).length
  return (
    <div className="mx-auto max-w-2xl pt-8">
      <h1>
        {left === 1
          ? "One thing left until your first funnel is live"
          : `${left} things left until your first funnel is live`}
      </h1>
      <p className="mt-3 text-lead leading-relaxed">
        A free mini-course finds the people who care. Write a lesson or two, then let Swift Heron make the whole funnel
        from it: the page, the confirmation, the e-mails, the open door.
      </p>
      <ol className="mt-6">
        {toDo.map((t, i) => (
          <li key={t.words} className="flex items-center gap-4 border-t border-line py-3">
            <span className={`w-14 text-note ${t.done ? "font-semibold text-reed" : "text-soft"}`}>
              {t.done ? "Done" : `${i + 1}`}
            </span>
            <span className={`min-w-0 flex-1 ${t.done ? "text-soft" : ""}`}>{t.words}</span>
            {t.done ? null : (
              <Button asChild look={i === next ? "primary" : "plain"}>
                <Link href={t.href}>{t.says}</Link>
              </Button>
            )}
          </li>
        ))}
      </ol>
    </div>
  )
}
