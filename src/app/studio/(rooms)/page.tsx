import { studio } from "@/app/door"
import { moneyText } from "@/core/offer/money"
import { readToday, type Week } from "@/server/today"
import { Button } from "@/ui/button"
import { Link } from "@/ui/link"
import { people, soon } from "./words"

export const metadata = { title: "Today" }

export default async function TodayPage() {
  const s = await studio()
  const today = await readToday(s)
  if (today.funnels === 0) return <FirstDay />
  return (
    <div className="mx-auto max-w-3xl pt-6">
      <h1>Today</h1>
      <ul className="mt-5 space-y-6 text-[1.15rem] leading-relaxed">
        <li>
          <p>
            In the last seven days <strong>{people(today.week.came)}</strong> came and{" "}
            <strong>{today.week.joined.toLocaleString("en-GB")}</strong> joined: {comparison(today.week, today.before)}
          </p>
          {today.week.bought + today.before.bought > 0 ? (
            <p className="mt-2">
              <strong>{people(today.week.bought)}</strong> bought, and <strong>{taken(today.week)}</strong> came in; in
              the seven days before it was {people(today.before.bought)} and {taken(today.before)}.
            </p>
          ) : null}
          <p className="mt-2 text-base">
            <Button asChild>
              <Link href="/studio/funnels">Look at the river</Link>
            </Button>{" "}
            {today.week.bought + today.before.bought > 0 ? (
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
        <li>
          {today.next ? (
            <>
              <p>
                Next, {soon(today.next.at, today.now, today.zone)},{" "}
                {today.next.mails === 1 ? "an e-mail" : `${today.next.mails} e-mails`} of{" "}
                <strong>{today.next.what}</strong> {today.next.mails === 1 ? "goes" : "go"} out within the hour.
              </p>
              <p className="mt-2 text-base">
                <Button asChild>
                  <Link href="/studio/mail">See what is due</Link>
                </Button>
              </p>
            </>
          ) : (
            <p>Nothing is due: no e-mail is waiting to be sent.</p>
          )}
        </li>
      </ul>
    </div>
  )
}

function taken(week: Week): string {
  return week.money.map((m) => moneyText(m.amount, m.currency)).join(" and ") || "nothing"
}

function comparison(week: Week, before: Week): string {
  if (before.came === 0 && before.joined === 0) return "nobody had come in the seven days before."
  const way = (a: number, b: number) =>
    a === b ? "as many" : `${Math.abs(a - b).toLocaleString("en-GB")} ${a > b ? "more" : "fewer"}`
  return `${way(week.came, before.came)} came and ${way(week.joined, before.joined)} joined than in the seven days before.`
}

function FirstDay() {
  return (
    <div className="mx-auto max-w-2xl pt-10">
      <h1>Good morning. Let's give something away</h1>
      <p className="mt-4 text-[1.1rem] leading-relaxed">
        A free mini-course finds the people who care. Write a lesson or two, then let Swift Heron make the whole funnel
        from it: the page, the confirmation, the e-mails, the open door.
      </p>
      <p className="mt-6 flex gap-3">
        <Button asChild look="primary">
          <Link href="/studio/courses?new">Write a course</Link>
        </Button>
        <Button asChild>
          <Link href="/studio/funnels/new">Make a funnel</Link>
        </Button>
      </p>
    </div>
  )
}
