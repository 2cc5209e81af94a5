// Sequences with people in them: splits, waits for what happens, a goal, changes while they run, pauses, and who gets what.
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest"
import type { Segment } from "@/core/person/segment/segment"
import { allSteps, type Flow } from "@/core/sequence/flow"
import { mailOf, type SequenceStep } from "@/core/sequence/step/list"
import type { Context } from "@/server/context"
import { doWhatIsDue, nextDueInstant } from "@/server/due-list"
import { markOpened } from "@/server/mail/click"
import { leaveMails } from "@/server/mail/unsubscribe"
import { erasePerson } from "@/server/person/erase"
import { makePerson } from "@/server/person/person"
import { putTagsOn } from "@/server/person/tag"
import { unite } from "@/server/person/unite"
import { beginSequence } from "@/server/sequence/begin"
import { addLetter, copySequenceStep, newSequence, saveMail, saveSequence } from "@/server/sequence/edit"
import {
  isSequenceChanged,
  pauseSequence,
  putLive,
  removeSequence,
  resumeSequence,
  whatItDoes,
} from "@/server/sequence/live"
import { beginFor, movePeople, peopleAt, placesIn } from "@/server/sequence/people"
import { planBeginning, plannedOf, removePlanned } from "@/server/sequence/planned"
import { reachedBy } from "@/server/sequence/reached"
import { sequences } from "@/server/sequence/run"
import { loadSequence } from "@/server/sequence/store"
import { random } from "../support/random"
import { openSchool, type TestSchool, testSchool } from "../support/school"

const day = 86_400_000
let t: TestSchool
let tag = 0
beforeAll(async () => {
  t = await testSchool("sequence")
  await openSchool(t)
  tag = (await t.s.db.write("INSERT INTO tag (name) VALUES ('brave')")).id
})
afterAll(() => t.end())
beforeEach(() => {
  t.sent.length = 0
})

const brave = (): Segment => ({ match: "all", parts: [{ kind: "tag", tag, has: true }] })
let people = 0
async function person(zone = "UTC"): Promise<{ id: number; email: string }> {
  const email = `p${++people}@s.example`
  const made = await t.s.db.transaction((tx) =>
    makePerson(tx, { canonical: email, email, name: `P ${people}`, zone, source: "direct", confirmed: true }, t.at()),
  )
  return { id: made.person, email }
}
const tagOn = (id: number) =>
  t.s.db.transaction((tx) => putTagsOn(tx, [{ person: id, tag, at: t.at(), name: "brave" }]))
const begin = (sequence: number, id: number, again: "no" | "ended" | "at-once" = "no") =>
  t.s.db.transaction((tx) => beginSequence(tx, { people: [id], sequence, funnel: null, at: t.at(), again }))
const subjects = (email: string) => t.sent.filter((m) => m.to.address === email).map((m) => m.subject)

/** A live sequence: `say` makes a step that sends an e-mail of that subject. */
async function made(of: (say: (subject: string) => Promise<SequenceStep>) => Promise<Flow>): Promise<number> {
  const { id } = (await newSequence(t.s, `S ${people}`)) as { id: number }
  let step = 100
  const flow = await of(async (subject) => {
    const { id: mail } = (await addLetter(t.s, id)) as { id: number }
    await saveMail(t.s, { mail, subject, body: `<p>${subject}</p>`, button: "", lesson: null, step: null })
    return { id: ++step, kind: "send", mail }
  })
  const saved = await saveSequence(t.s, id, { flow })
  if ("refused" in saved) throw new Error(saved.refused)
  expect(await putLive(t.s, id)).toEqual({ ok: true })
  return id
}

/** What is due is done, up to an instant so long from now; `first` has its turn before. */
async function walk(ms: number, first = async (): Promise<unknown> => null): Promise<void> {
  const until = t.at() + ms
  for (;;) {
    await first()
    await doWhatIsDue(t.s, "w")
    const next = await nextDueInstant(t.s)
    if (next === null || next > until) break
    t.set(Math.max(next, t.at()))
  }
  t.set(until)
  await doWhatIsDue(t.s, "w")
}

describe("a split", () => {
  it("takes each where the question leads, and both go on behind it", async () => {
    const id = await made(async (say) => ({
      goal: null,
      steps: [
        await say("one"),
        { id: 1, kind: "wait", wait: { for: "days", days: 1, at: null } },
        { id: 2, kind: "split", question: brave(), yes: [await say("brave")], no: [await say("timid")] },
        await say("both"),
      ],
    }))
    const [a, b] = [await person(), await person()]
    for (const p of [a, b]) await begin(id, p.id)
    // It is asked when they come there, not before.
    await tagOn(a.id)
    await walk(2 * day)
    expect(subjects(a.email)).toEqual(["one", "brave", "both"])
    expect(subjects(b.email)).toEqual(["one", "timid", "both"])
  })
})

describe("a wait until something happens", () => {
  it("ends when it happens, or after so long; whoever is it already doesn't wait", async () => {
    const id = await made(async (say) => ({
      goal: null,
      steps: [{ id: 1, kind: "wait-until", question: brave(), most: 3 * 1440 }, await say("go")],
    }))
    const [a, b, c] = [await person(), await person(), await person()]
    await tagOn(c.id)
    for (const p of [a, b, c]) await begin(id, p.id)
    await walk(day)
    expect([subjects(a.email), subjects(b.email), subjects(c.email)]).toEqual([[], [], ["go"]])
    expect(await placesIn(t.s.db, id)).toEqual({ 1: 2 })
    await tagOn(a.id)
    await walk(1000)
    expect(subjects(a.email)).toEqual(["go"])
    await walk(3 * day)
    expect(subjects(b.email)).toEqual(["go"])
  })
})

describe("an e-mail that is opened", () => {
  it("ends a wait for it at once, and comes from whom the sequence says", async () => {
    const id = await made(async (say) => ({
      goal: null,
      steps: [
        await say("look"),
        {
          id: 1,
          kind: "wait-until",
          question: { match: "all", parts: [{ kind: "opened", sequence: null, has: true, days: null }] },
          most: 3 * 1440,
        },
        await say("you looked"),
      ],
    }))
    await saveSequence(t.s, id, { from: { name: "Ida at Juniper", replyTo: "ida@juniper.example" } })
    await putLive(t.s, id)
    const [a, b] = [await person(), await person()]
    for (const p of [a, b]) await begin(id, p.id)
    await walk(1000)
    const first = t.sent.find((m) => m.to.address === a.email)!
    expect(first.from.name).toBe("Ida at Juniper")
    expect(first.replyTo).toBe("ida@juniper.example")
    await markOpened(t.s, /\/mail\.gif\/([\w.-]+)/.exec(first.html)![1]!)
    await walk(1000)
    expect([subjects(a.email), subjects(b.email)]).toEqual([["look", "you looked"], ["look"]])
    expect(await saveSequence(t.s, id, { from: { name: "A\nBcc: x", replyTo: "" } })).toHaveProperty("refused")
    expect(await saveSequence(t.s, id, { from: { name: "", replyTo: "nobody" } })).toHaveProperty("refused")
  })
})

describe("a goal", () => {
  it("ends it from anywhere, keeps back what was planned, and it doesn't begin for whoever is there", async () => {
    const id = await made(async (say) => ({
      goal: brave(),
      steps: [
        await say("one"),
        { id: 1, kind: "wait", wait: { for: "days", days: 1, at: null } },
        await say("two"),
        {
          id: 2,
          kind: "wait-until",
          question: { match: "all", parts: [{ kind: "receives", is: false }] },
          most: 9 * 1440,
        },
        await say("three"),
      ],
    }))
    const [a, b, c] = [await person(), await person(), await person()]
    for (const p of [a, b]) await begin(id, p.id)
    await walk(1000)
    await tagOn(a.id) // its second e-mail is planned already
    await walk(2 * day)
    expect(subjects(a.email)).toEqual(["one"])
    expect(subjects(b.email)).toEqual(["one", "two"])
    await tagOn(b.id) // while waiting for something else
    await tagOn(c.id)
    await begin(id, c.id)
    await walk(20 * day)
    expect([subjects(b.email), subjects(c.email)]).toEqual([["one", "two"], []])
    const ended = await t.s.db.rows("SELECT ended_why AS why FROM enrolment WHERE sequence_id = ?", [id])
    expect(ended).toEqual([{ why: "reached its goal" }, { why: "reached its goal" }])
    const facts = await t.s.db.rows("SELECT kind FROM fact WHERE person_id = ? AND kind LIKE 'sequence%'", [c.id])
    expect(facts).toEqual([{ kind: "sequence-not-begun" }])
  })
})

describe("what a step does", () => {
  it("puts a tag on, which the next question sees; begins another; tells the team once", async () => {
    const other = await made(async (say) => ({ goal: null, steps: [await say("other")] }))
    const account = (await t.s.db.row<{ id: number; email: string }>("SELECT id, email FROM account"))!
    const id = await made(async (say) => ({
      goal: null,
      steps: [
        { id: 1, kind: "effect", effect: { kind: "tag-on", settings: { tag } } },
        { id: 2, kind: "split", question: brave(), yes: [await say("seen")], no: [await say("not seen")] },
        { id: 3, kind: "effect", effect: { kind: "begin-sequence", settings: { sequence: other, again: "no" } } },
        { id: 4, kind: "tell", accounts: [account.id, 999], says: "Call them <today>" },
        { id: 5, kind: "end" },
        await say("never"),
      ],
    }))
    const a = await person()
    await begin(id, a.id)
    await walk(1000)
    expect(subjects(a.email).sort()).toEqual(["other", "seen"])
    const told = t.sent.filter((m) => m.to.address === account.email)
    expect(told.map((m) => m.subject)).toEqual([`P ${people}, in “S ${people - 1}”`])
    expect(told[0]!.html).toContain("Call them &lt;today&gt;")
  })
})

describe("beginning", () => {
  it("happens once, again when it has ended, or again at once", async () => {
    const id = await made(async (say) => ({
      goal: null,
      steps: [await say("one"), { id: 1, kind: "wait", wait: { for: "span", minutes: 60 } }, await say("two")],
    }))
    const a = await person()
    await Promise.all([begin(id, a.id), begin(id, a.id)])
    await walk(1000)
    await begin(id, a.id)
    await begin(id, a.id, "ended")
    await walk(1000)
    expect(subjects(a.email)).toEqual(["one"])
    await begin(id, a.id, "at-once")
    await walk(1000)
    expect(subjects(a.email)).toEqual(["one", "one"])
    await walk(2 * day)
    expect(subjects(a.email)).toEqual(["one", "one", "two"]) // the first run ended without its second
    await begin(id, a.id, "ended")
    await walk(1000)
    expect(subjects(a.email)).toHaveLength(4)
  })

  it("is by hand for a question, without those who had it or take no mail", async () => {
    const id = await made(async (say) => ({ goal: null, steps: [await say("hello")] }))
    const [a, b, c] = [await person(), await person(), await person()]
    for (const p of [a, b, c]) await tagOn(p.id)
    await t.s.db.write("UPDATE address SET suppressed = 'left' WHERE person_id = ?", [b.id])
    await begin(id, c.id)
    const only: Segment = { match: "all", parts: [{ kind: "tag", tag, has: true }] }
    const before = (await t.s.db.row<{ n: number }>("SELECT COUNT(*) AS n FROM person_tag WHERE tag_id = ?", [tag]))!.n
    const came = await beginFor(t.s, id, only)
    expect(came).toEqual({ begun: before - 2 })
    await walk(1000)
    expect([subjects(a.email), subjects(b.email), subjects(c.email)]).toEqual([["hello"], [], ["hello"]])
    expect(await beginFor(t.s, id, only)).toEqual({ begun: 0 })
    expect(await beginFor(t.s, 9999, only)).toHaveProperty("refused")
    expect(await beginFor(t.s, id, { match: "some" })).toHaveProperty("refused")
  })
})

describe("an e-mail that never was written", () => {
  it("says why, by how far somebody came", async () => {
    const id = await made(async (say) => ({
      goal: null,
      steps: [
        { id: 1, kind: "wait", wait: { for: "days", days: 2, at: null } },
        { id: 2, kind: "split", question: brave(), yes: [await say("for the brave")], no: [await say("for others")] },
      ],
    }))
    const [brave1, other] = (await loadSequence(t.s.db, id))!.mails.map((m) => m.id)
    const why = async (mail: number, email: string) => {
      const found = await reachedBy(t.s, mail, email)
      return "refused" in found ? found.refused : found.mail === null ? found.says.join(" ") : "reached"
    }
    const [a, b] = [await person(), await person()]
    expect(await why(brave1!, a.email)).toBe("The sequence has never begun for them.")
    expect(await why(brave1!, "nobody@s.example")).toContain("Nobody")
    expect(await why(9_999, a.email)).not.toBe("reached")
    await begin(id, a.id)
    await begin(id, b.id)
    expect(await why(brave1!, a.email)).toMatch(/stand at “.*2 days.*”\. This e-mail is still before them\.$/)
    await tagOn(a.id)
    await walk(3 * day)
    expect([await why(brave1!, a.email), await why(other!, b.email)]).toEqual(["reached", "reached"])
    expect(await why(brave1!, b.email)).toMatch(/They did not come past this e-mail: they went another way/)
  })
})

describe("a beginning on a day", () => {
  it("is for those whom the question finds on that day, some at a time, and can be taken back before", async () => {
    const id = await made(async (say) => ({ goal: null, steps: [await say("today")] }))
    const ids: number[] = []
    for (let i = 0; i < 205; i++) ids.push((await person()).id)
    const later: Segment = { match: "all", parts: [{ kind: "source", source: "the fair", is: true }] }
    const plan = (days: number, question: Segment = later) => {
      const date = new Date(t.at() + days * day).toISOString().slice(0, 10)
      return planBeginning(t.s, { sequence: id, question, date, at: 450 })
    }
    expect(await plan(-1)).toMatchObject({ field: "date" })
    expect(await planBeginning(t.s, { sequence: 9_999, question: later, date: "2030-01-01", at: 450 })).toHaveProperty(
      "refused",
    )
    expect(await planBeginning(t.s, { sequence: id, question: later, date: "1 May", at: 450 })).toHaveProperty(
      "refused",
    )
    expect(await plan(2)).toMatchObject({ ok: true })
    expect(await plan(3)).toMatchObject({ ok: true })
    const [last, first] = await plannedOf(t.s.db, id)
    expect([first!.says, first!.begun]).toEqual(["came from “the fair”", null])
    expect(first!.due.getTime()).toBeLessThan(last!.due.getTime())
    expect(await removePlanned(t.s, last!.id)).toEqual({ ok: true })
    // They come to be meant after it was planned.
    await t.s.db.write("UPDATE person SET source = 'the fair' WHERE id IN (?)", [ids])
    await begin(id, ids[0]!)
    await walk(3 * day)
    expect(await plannedOf(t.s.db, id)).toMatchObject([{ id: first!.id, begun: 204 }])
    expect(t.sent.filter((m) => m.subject === "today")).toHaveLength(205)
    expect(await removePlanned(t.s, first!.id)).toHaveProperty("refused")
  })
})

describe("a change while people are in it", () => {
  const three = (id: { value: number }) =>
    made(async (say) => {
      const steps: SequenceStep[] = [
        await say("one"),
        { id: 1, kind: "wait", wait: { for: "days", days: 1, at: null } },
        await say("two"),
        { id: 2, kind: "wait", wait: { for: "days", days: 1, at: null } },
        await say("three"),
      ]
      return { goal: null, steps }
    }).then((n) => {
      id.value = n
    })

  it("reaches nobody before it is put live, and says what it does to whom", async () => {
    const id = { value: 0 }
    await three(id)
    const a = await person()
    await begin(id.value, a.id)
    await walk(1000)
    const q = (await loadSequence(t.s.db, id.value))!
    const two = allSteps(q.flow.steps).find((s) => mailOf(s) === q.mails[1]!.id)!
    const { id: fresh } = (await addLetter(t.s, id.value)) as { id: number }
    await saveMail(t.s, { mail: fresh, subject: "zero", body: "<p>0</p>", button: "", lesson: null, step: null })
    const zero: SequenceStep = { id: 900, kind: "send", mail: fresh }
    const steps = [zero, ...q.flow.steps.filter((s) => s.id !== two.id)]
    await saveSequence(t.s, id.value, { flow: { goal: null, steps } })
    const changed = (await loadSequence(t.s.db, id.value))!
    expect(await isSequenceChanged(t.s.db, changed)).toBe(true)
    expect(await whatItDoes(t.s.db, changed)).toEqual([
      { says: "Wait a day", people: 1, goesOn: { says: "Wait a day" }, miss: ["zero"] },
    ])
    await putLive(t.s, id.value)
    await walk(5 * day)
    expect(subjects(a.email)).toEqual(["one", "three"])
    expect(await isSequenceChanged(t.s.db, (await loadSequence(t.s.db, id.value))!)).toBe(false)
  })

  it("leaves what is planned as it is planned, or plans it anew", async () => {
    for (const [replan, hours] of [
      ["as-planned", 24],
      ["anew", 1],
    ] as const) {
      const id = { value: 0 }
      await three(id)
      const a = await person()
      await begin(id.value, a.id)
      await walk(1000)
      const began = t.at() - 1000
      const { flow } = (await loadSequence(t.s.db, id.value))!
      const steps = flow.steps.map((s) =>
        s.id === 1 ? ({ id: 1, kind: "wait", wait: { for: "span", minutes: 60 } } as SequenceStep) : s,
      )
      await saveSequence(t.s, id.value, { flow: { goal: null, steps } })
      await putLive(t.s, id.value, replan)
      await doWhatIsDue(t.s, "w")
      const due = await t.s.db.row<{ at: Date }>(
        "SELECT due_at AS at FROM mail WHERE person_id = ? AND state = 'due'",
        [a.id],
      )
      expect([replan, Math.round((due!.at.getTime() - began) / 3_600_000)]).toEqual([replan, hours])
      await walk(5 * day)
      expect(subjects(a.email)).toEqual(["one", "two", "three"])
    }
  })

  it("never sends what somebody has had, wherever it is moved", async () => {
    const id = { value: 0 }
    await three(id)
    const a = await person()
    await begin(id.value, a.id)
    await walk(1000)
    const { flow } = (await loadSequence(t.s.db, id.value))!
    const [one, ...rest] = flow.steps
    await saveSequence(t.s, id.value, { flow: { goal: null, steps: [...rest, one!] } })
    await putLive(t.s, id.value, "anew")
    await walk(5 * day)
    expect(subjects(a.email)).toEqual(["one", "two", "three"])
  })
})

describe("by hand", () => {
  it("is paused, which sends nothing, and goes on", async () => {
    const id = await made(async (say) => ({
      goal: null,
      steps: [
        await say("one"),
        { id: 1, kind: "wait", wait: { for: "days", days: 1, at: null } },
        await say("two"),
        { id: 2, kind: "wait", wait: { for: "span", minutes: 30 } },
        { id: 3, kind: "effect", effect: { kind: "tag-on", settings: { tag } } },
        await say("three"),
      ],
    }))
    const [a, b] = [await person(), await person()]
    await begin(id, a.id)
    await walk(1000)
    expect(await pauseSequence(t.s, id)).toEqual({ ok: true })
    await begin(id, b.id)
    await walk(3 * day)
    expect([subjects(a.email), subjects(b.email)]).toEqual([["one"], []])
    expect(await resumeSequence(t.s, id)).toEqual({ ok: true })
    await walk(2000)
    expect([subjects(a.email), subjects(b.email)]).toEqual([["one", "two"], ["one"]])
    expect(await pauseSequence(t.s, 9999)).toHaveProperty("refused")
    await walk(3 * day)
    expect(subjects(b.email)).toEqual(["one", "two", "three"])
  })

  it("moves people, ends it for them, copies a step into another, and removes what nothing begins", async () => {
    const id = await made(async (say) => ({
      goal: null,
      steps: [
        { id: 1, kind: "wait", wait: { for: "days", days: 9, at: null } },
        await say("far"),
        { id: 2, kind: "wait", wait: { for: "span", minutes: 5 } },
        await say("near"),
      ],
    }))
    const [a, b] = [await person(), await person()]
    for (const p of [a, b]) await begin(id, p.id)
    const standing = await peopleAt(t.s.db, id, 1)
    expect(standing.map((p) => p.email)).toEqual([a.email, b.email])
    const at = (email: string) => standing.find((p) => p.email === email)!.enrolment
    expect(await movePeople(t.s, { sequence: id, enrolments: [at(a.email)], to: 2 })).toEqual({ ok: true })
    expect(await movePeople(t.s, { sequence: id, enrolments: [at(b.email)], to: null })).toEqual({ ok: true })
    expect(await movePeople(t.s, { sequence: id, enrolments: [at(b.email)], to: 2 })).toHaveProperty("refused")
    expect(await movePeople(t.s, { sequence: id, enrolments: [at(a.email)], to: 77 })).toHaveProperty("refused")
    await walk(20 * day)
    expect([subjects(a.email), subjects(b.email)]).toEqual([["near"], []])
    const other = (await newSequence(t.s, "Other")) as { id: number }
    const far = allSteps((await loadSequence(t.s.db, id))!.flow.steps)[1]!
    expect(await copySequenceStep(t.s, { sequence: id, step: far.id }, other.id)).toMatchObject({ ok: true })
    const copy = (await loadSequence(t.s.db, other.id))!
    expect(copy.mails.map((m) => m.subject)).toEqual(["far"])
    expect(copy.mails[0]!.id).not.toBe(mailOf(far))
    expect(await removeSequence(t.s, other.id)).toEqual({ ok: true })
    expect(await loadSequence(t.s.db, other.id)).toBeUndefined()
  })
})

describe("somebody in the middle of it", () => {
  const two = () =>
    made(async (say) => ({
      goal: null,
      steps: [await say("one"), { id: 1, kind: "wait", wait: { for: "days", days: 1, at: null } }, await say("two")],
    }))
  const ended = (person: number) =>
    t.s.db.rows<{ why: string }>(
      "SELECT ended_why AS why FROM enrolment WHERE person_id = ? AND ended_at IS NOT NULL",
      [person],
    )

  it("gets nothing more when they leave, are erased, or were taken into another person who has it", async () => {
    const id = await two()
    const [left, erased, home, work] = [await person(), await person(), await person(), await person()]
    for (const p of [left, erased, home, work]) await begin(id, p.id)
    await walk(1000)
    const address = await t.s.db.row<{ id: number }>("SELECT id FROM address WHERE person_id = ?", [left.id])
    await leaveMails(t.s, address!.id, { ip: "192.0.2.1", how: "page" })
    expect(await erasePerson(t.s, erased.id)).toEqual({ ok: true })
    expect(await unite(t.s, home.id, work.id)).toEqual({ ok: true })
    await walk(2 * day)
    expect([left, erased].map((p) => subjects(p.email))).toEqual([["one"], ["one"]])
    // One person now, and the second e-mail comes once, to one of their addresses.
    expect([...subjects(home.email), ...subjects(work.email)].sort()).toEqual(["one", "one", "two"])
    expect(await ended(left.id)).toHaveLength(1)
  })

  it("begins it once when two things begin it at once", async () => {
    const id = await two()
    const a = await person()
    await Promise.all([begin(id, a.id), begin(id, a.id), begin(id, a.id)])
    await walk(2 * day)
    expect(subjects(a.email)).toEqual(["one", "two"])
  })

  it("waits no longer, and gets nothing twice, when the clock is put back", async () => {
    const id = await two()
    const a = await person()
    await begin(id, a.id)
    await walk(1000)
    const then = t.at()
    t.set(then - 6 * 3_600_000)
    await doWhatIsDue(t.s, "w")
    expect(subjects(a.email)).toEqual(["one"])
    t.set(then)
    await walk(2 * day)
    expect(subjects(a.email)).toEqual(["one", "two"])
  })

  it("goes the other way at a question about what is no longer there", async () => {
    const lost = (await t.s.db.write("INSERT INTO tag (name) VALUES ('lost')")).id
    const id = await made(async (say) => ({
      goal: null,
      steps: [
        {
          id: 1,
          kind: "split",
          question: { match: "all", parts: [{ kind: "tag", tag: lost, has: true }] },
          yes: [await say("has it")],
          no: [await say("has it not")],
        },
      ],
    }))
    await t.s.db.write("DELETE FROM tag WHERE id = ?", [lost])
    const a = await person()
    await begin(id, a.id)
    await walk(1000)
    expect(subjects(a.email)).toEqual(["has it not"])
  })
})

describe("workers that break off", () => {
  /** The school as a worker has it whose writes fail now and then, in the middle of a transaction. */
  const stumbling = (breaks: () => boolean): Context => ({
    ...t.s,
    db: {
      ...t.s.db,
      transaction: (work, most) =>
        t.s.db.transaction(
          (tx) =>
            work({
              ...tx,
              write(sql, values) {
                if (breaks()) throw new Error("broke off")
                return tx.write(sql, values)
              },
            }),
          most,
        ),
    },
  })

  it("lose nobody and do nothing twice, whenever it happens", async () => {
    const told = (await t.s.db.row<{ id: number; email: string }>("SELECT id, email FROM account"))!
    const mark = (await t.s.db.write("INSERT INTO tag (name) VALUES ('marked')")).id
    const id = await made(async (say) => ({
      goal: null,
      steps: [
        await say("one"),
        { id: 1, kind: "wait", wait: { for: "days", days: 1, at: null } },
        { id: 2, kind: "split", question: brave(), yes: [await say("brave")], no: [await say("timid")] },
        { id: 3, kind: "wait-until", question: brave(), most: 2 * 1440 },
        { id: 4, kind: "effect", effect: { kind: "tag-on", settings: { tag: mark } } },
        { id: 5, kind: "tell", accounts: [told.id], says: "" },
        await say("both"),
      ],
    }))
    const next = random(3)
    let broken = 0
    const breaks = () => next() < 0.2 && ++broken > 0
    const [a, b] = [stumbling(breaks), stumbling(breaks)]
    const stumble = () => Promise.allSettled([sequences.run(a, "a"), sequences.run(b, "b")])
    const everyone: { id: number; email: string; when: number }[] = []
    for (let i = 0; i < 40; i++) {
      const who = await person()
      await begin(id, who.id)
      await walk(7 * 60_000, stumble)
      // Tagged before the split, while they wait, or never.
      everyone.push({ ...who, when: [0.5, 1.5, 99][i % 3]! })
    }
    for (let hours = 0; hours <= 96; hours += 12) {
      for (const who of everyone) if (who.when * 24 === hours) await tagOn(who.id)
      await walk(day / 2, stumble)
    }
    expect(broken).toBeGreaterThan(10)
    for (const who of everyone) expect(subjects(who.email)).toEqual(["one", who.when < 1 ? "brave" : "timid", "both"])
    const marked = await t.s.db.rows("SELECT person_id FROM fact WHERE kind = 'tagged' AND subject_id = ?", [mark])
    expect(marked).toHaveLength(40)
    expect(t.sent.filter((m) => m.to.address === told.email)).toHaveLength(40)
    expect(await placesIn(t.s.db, id)).toEqual({})
  })
})

describe("what can't be", () => {
  it("is refused: a step twice, an e-mail of another sequence, one sent twice, a kind that there isn't", async () => {
    const one = (await newSequence(t.s, "One")) as { id: number }
    const two = (await newSequence(t.s, "Two")) as { id: number }
    const mail = ((await addLetter(t.s, two.id)) as { id: number }).id
    const own = ((await addLetter(t.s, one.id)) as { id: number }).id
    for (const steps of [
      [
        { id: 1, kind: "end" },
        { id: 1, kind: "end" },
      ],
      [{ id: 1, kind: "send", mail }],
      [
        { id: 1, kind: "send", mail: own },
        { id: 2, kind: "send", mail: own },
      ],
      [{ id: 1, kind: "teleport" }],
      [{ id: 1, kind: "wait", wait: { for: "weekday", weekday: 8, at: 0 } }],
      [{ id: 1, kind: "split", question: brave(), yes: [{ id: 2, kind: "nothing" }], no: [] }],
      "steps",
    ])
      expect(await saveSequence(t.s, one.id, { flow: { goal: null, steps } })).toHaveProperty("refused")
    expect(await newSequence(t.s, " ")).toHaveProperty("refused")
    expect(await putLive(t.s, 9999)).toHaveProperty("refused")
  })
})
