"use client"

import { useRouter } from "next/navigation"
import { useRef, useState, useTransition } from "react"
import type { AskedQuestion, AskedQuiz, Tried } from "@/server/course/quiz"
import { Button } from "@/ui/button"
import { Refusal } from "@/ui/refusal"
import { tryQuizAction } from "../../actions"

type Given = Record<string, number[] | string>

/** A quiz to be answered: every question, then what was right and why. */
export function QuizForm({ slug, lesson, quiz: latest }: { slug: string; lesson: number; quiz: AskedQuiz }) {
  const router = useRouter()
  const [busy, start] = useTransition()
  // What is asked stays as it was while it is answered and read; another try may come in another order.
  const [quiz, setQuiz] = useState(latest)
  const [given, setGiven] = useState<Given>({})
  const [tried, setTried] = useState<Tried | null>(null)
  const [refused, setRefused] = useState("")
  const outcome = useRef<HTMLParagraphElement>(null)
  const left = tried ? tried.triesLeft : quiz.triesLeft
  const over = left === 0 && !tried
  if (!quiz.questions.length) return null
  const put = (id: string, answer: number[] | string) => setGiven((g) => ({ ...g, [id]: answer }))
  return (
    <form
      aria-label="Quiz"
      className="rounded-lg border border-line bg-card p-4 sm:p-5"
      onSubmit={(e) => {
        e.preventDefault()
        start(async () => {
          const done = await tryQuizAction({ slug, lesson, block: quiz.block }, given)
          if ("refused" in done) {
            setRefused(done.refused)
            return
          }
          setRefused("")
          setTried(done)
          router.refresh()
          outcome.current?.focus()
        })
      }}
    >
      <p ref={outcome} tabIndex={-1} role="status" className="font-semibold">
        {tried
          ? `${tried.marked.passed ? "Passed" : "Not passed yet"}: ${tried.marked.points} of ${tried.marked.of} right.`
          : quiz.last
            ? `${quiz.last.passed ? "You have passed this quiz." : "Not passed yet."} The last time: ${quiz.last.points} of ${quiz.last.of} right.`
            : `${quiz.questions.length === 1 ? "One question" : `${quiz.questions.length} questions`}; passed with ${quiz.passMark} %.`}
        {left === null
          ? ""
          : ` ${left === 0 ? "No try is left." : left === 1 ? "One try is left." : `${left} tries are left.`}`}
        {tried && !tried.kept ? " It isn’t kept: sign in for that." : ""}
      </p>
      <ol className="mt-3 space-y-5">
        {quiz.questions.map((q, i) => (
          <li key={q.id}>
            <QuestionField
              q={q}
              n={i + 1}
              given={given[q.id]}
              done={tried !== null || over}
              onChange={(a) => put(q.id, a)}
            />
            {tried ? (
              <p className={`mt-1.5 font-semibold ${tried.marked.right[q.id] ? "text-reed" : "text-dusk"}`}>
                {tried.marked.right[q.id] ? "Right." : "Not right."}{" "}
                <span className="font-normal text-ink">{tried.explains[q.id]}</span>
              </p>
            ) : null}
          </li>
        ))}
      </ol>
      <Refusal className="mt-3">{refused}</Refusal>
      {over ? null : tried ? (
        left === 0 ? null : (
          // A button of its own: one that turned into the other while it is pressed would send the new try at once.
          <Button
            key="again"
            className="mt-5 min-h-11 w-full"
            onClick={() => {
              setTried(null)
              setGiven({})
              // The page may not have been told of the last try yet.
              setQuiz({ ...latest, triesLeft: tried.triesLeft, last: tried.kept ? tried.marked : latest.last })
            }}
          >
            Try again
          </Button>
        )
      ) : (
        <Button key="send" type="submit" look="primary" disabled={busy} className="mt-5 min-h-11 w-full">
          See how I did
        </Button>
      )}
    </form>
  )
}

function QuestionField({
  q,
  n,
  given,
  done,
  onChange,
}: {
  q: AskedQuestion
  n: number
  given: number[] | string | undefined
  done: boolean
  onChange: (answer: number[] | string) => void
}) {
  const says = `${n}. ${q.asks}`
  if (q.kind !== "choice")
    return (
      <label className="block">
        <span className="font-semibold whitespace-pre-line">{says}</span>
        <input
          className="mt-1.5 min-h-11 w-full rounded-md border border-line bg-paper px-3"
          inputMode={q.kind === "number" ? "decimal" : "text"}
          maxLength={1000}
          disabled={done}
          value={typeof given === "string" ? given : ""}
          onChange={(e) => onChange(e.target.value)}
        />
      </label>
    )
  const chosen = Array.isArray(given) ? given : []
  return (
    <fieldset disabled={done}>
      <legend className="font-semibold whitespace-pre-line">
        {says}
        {q.several ? <span className="font-normal text-soft"> (several are right)</span> : null}
      </legend>
      {q.options.map((o) => (
        <label
          key={o.n}
          className="mt-1 flex min-h-11 items-center gap-3 rounded-md border border-line bg-paper px-3 py-1.5"
        >
          <input
            type={q.several ? "checkbox" : "radio"}
            name={`${q.id}`}
            className="size-4 accent-slate"
            checked={chosen.includes(o.n)}
            onChange={() =>
              onChange(!q.several ? [o.n] : chosen.includes(o.n) ? chosen.filter((x) => x !== o.n) : [...chosen, o.n])
            }
          />
          {o.says}
        </label>
      ))}
    </fieldset>
  )
}
