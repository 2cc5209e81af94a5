// What is written beside a lesson: notes, comments with answers, and what a search finds.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { actingAs } from "@/server/context"
import { readCourse, saveCourse, saveLesson } from "@/server/course/course"
import { saveLessonPage } from "@/server/course/lesson-page"
import { letPeopleIn } from "@/server/course/let-in"
import {
  addComment,
  answerComment,
  commentsOn,
  courseComments,
  noteOf,
  removeComment,
  saveNote,
  searchLessons,
  setCommentState,
} from "@/server/course/talk"
import { sendDue } from "@/server/mail/send"
import { accountOf, setMailsComments } from "@/server/person/account"
import { readToday } from "@/server/today"
import { openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let lessons: number[]
let course: number
let ana: number
let ivo: number
beforeAll(async () => {
  t = await testSchool("talk")
  const school = await openSchool(t)
  course = school.course
  lessons = (await readCourse(t.s.db, course))!.lessons.map((l) => l.id)
  await letPeopleIn(t.s, {
    course,
    module: null,
    people: "Ana <ana@x.example>\nivo@x.example",
    until: null,
    tells: false,
  })
  const idOf = async (email: string) =>
    (await t.s.db.row<{ id: number }>("SELECT id FROM person WHERE email = ?", [email]))!.id
  ana = await idOf("ana@x.example")
  ivo = await idOf("ivo@x.example")
})
afterAll(() => t.end())

const me = (person: number) => ({ person, scope: null })
const say = (person: number, body: unknown, answers: number | null = null, lesson = lessons[0]!) =>
  addComment(t.s, me(person), { slug: "first", lesson, answers }, body)
const owner = () => actingAs(t.s, { is: "account", id: 1 })

describe("a note", () => {
  it("is its writer's alone, kept as typed, and gone when it is empty", async () => {
    expect(await saveNote(t.s, me(ana), "first", lessons[0]!, " Less salt. ")).toEqual({ ok: true })
    expect(await noteOf(t.s.db, ana, lessons[0]!)).toBe("Less salt.")
    expect(await noteOf(t.s.db, ivo, lessons[0]!)).toBe("")
    expect(await saveNote(t.s, me(ana), "first", lessons[0]!, "x".repeat(10_001))).toMatchObject({
      refused: expect.any(String),
    })
    expect(await saveNote(t.s, me(99_999), "first", lessons[0]!, "x")).toMatchObject({ refused: expect.any(String) })
    await saveNote(t.s, me(ana), "first", lessons[0]!, "  ")
    expect(await noteOf(t.s.db, ana, lessons[0]!)).toBe("")
  })
})

describe("comments", () => {
  it("are taken only where they are on, and shown at once or when the school has looked", async () => {
    expect(await say(ana, "Hello?")).toMatchObject({ refused: expect.any(String) })
    await saveLesson(t.s, { lesson: lessons[0], comments: "on" })
    await saveLesson(t.s, { lesson: lessons[1], comments: "moderated" })
    expect(await say(ana, "How <b>salty</b>?")).toMatchObject({ ok: true })
    expect(await say(ana, "  ")).toMatchObject({ refused: expect.any(String) })
    expect(await say(ana, "x".repeat(4_001))).toMatchObject({ refused: expect.any(String) })
    const [first] = await commentsOn(t.s.db, lessons[0]!, ivo)
    expect(first).toMatchObject({ name: "Ana", body: "How <b>salty</b>?", school: false, mine: false, waiting: false })
    await say(ivo, "Two percent.", first!.id)
    expect(await say(ivo, "And mine?", 99_999)).toMatchObject({ refused: expect.any(String) })

    await say(ivo, "Is this one seen?", null, lessons[1]!)
    expect(await commentsOn(t.s.db, lessons[1]!, ana)).toEqual([])
    expect(await commentsOn(t.s.db, lessons[1]!, ivo)).toMatchObject([{ mine: true, waiting: true }])
    expect((await readToday(t.s)).broken.map((b) => b.words).join()).toContain("One comment waits")
    const [waiting] = await courseComments(t.s.db, course)
    expect(waiting).toMatchObject({ state: "waiting", name: "ivo@x.example", answered: false })
    expect(await answerComment(t.s, waiting!.id, "Yes.")).toMatchObject({ refused: expect.any(String) }) // nobody
    expect(await answerComment(owner(), waiting!.id, "Yes, now it is.")).toEqual({ ok: true })
    expect(await commentsOn(t.s.db, lessons[1]!, ana)).toMatchObject([
      { name: "A learner", waiting: false },
      { school: true, answers: waiting!.id, body: "Yes, now it is." },
    ])
    await setCommentState(owner(), waiting!.id, "hidden")
    expect((await commentsOn(t.s.db, lessons[1]!, ivo)).map((c) => c.school)).toEqual([true])
  })

  it("are removed by whoever wrote them and nobody else, with their answers", async () => {
    const [first] = await commentsOn(t.s.db, lessons[0]!, ana)
    await removeComment(t.s, me(ivo), first!.id)
    expect(await commentsOn(t.s.db, lessons[0]!, ana)).toHaveLength(2)
    await removeComment(t.s, me(ana), first!.id)
    expect(await commentsOn(t.s.db, lessons[0]!, ana)).toEqual([])
  })
})

describe("a search", () => {
  it("finds what open lessons say, titles first, whatever the accents, and nothing that isn't open", async () => {
    const page = {
      version: 1,
      title: "x",
      blocks: [{ id: "t", kind: "text", html: "<p>The Gärtopf holds five litres of brine.</p>" }],
    }
    await saveLessonPage(t.s, lessons[1]!, 1, page)
    await saveLesson(t.s, { lesson: lessons[2], title: "Brine" })
    const find = async (typed: string, who = ana) => (await searchLessons(t.s, me(who), typed)).map((f) => f.title)
    expect(await find("brine")).toEqual(["Brine", "Lesson 2"])
    expect(await find("GARTOPF litres")).toEqual(["Lesson 2"])
    expect((await searchLessons(t.s, me(ana), "gartopf"))[0]!.line).toContain("Gärtopf holds")
    expect(await find("nowhere")).toEqual([])
    expect(await find("  ")).toEqual([])
    expect(await find("brine", 99_999)).toEqual([])
    await saveLesson(t.s, { lesson: lessons[1], opens: { kind: "on-date", date: "2099-01-01", at: "06:00" } })
    await t.s.db.write("DELETE FROM plan_before")
    expect(await find("brine")).toEqual(["Brine"])
    await saveCourse(t.s, { course, state: "draft" })
    expect(await find("brine")).toEqual([])
  })
})

describe("new comments", () => {
  it("are mailed to the school in one message for ten minutes, escaped, and not those that were hidden", async () => {
    await saveCourse(t.s, { course, state: "live" })
    await saveLesson(t.s, { lesson: lessons[1], opens: null })
    t.set(t.at() + 3_600_000)
    await t.s.db.write("DELETE FROM mail WHERE kind = 'new-comments'")
    t.sent.length = 0
    await say(ana, "First <script>alert(1)</script>")
    await say(ivo, "Second\nwith a line", null, lessons[1]!)
    await say(ana, "Third, to be hidden")
    const hidden = (await courseComments(t.s.db, course)).find((c) => c.body.startsWith("Third"))!
    await setCommentState(owner(), hidden.id, "hidden")
    await sendDue(t.s, "w")
    expect(t.sent).toEqual([])
    t.set(t.at() + 10 * 60_000)
    await sendDue(t.s, "w")
    const [mail, ...others] = t.sent
    expect(others).toEqual([])
    expect(mail).toMatchObject({
      to: { address: "maren@crock.example" },
      subject: "2 comments, the first on “Lesson 1”",
    })
    expect(mail!.html).toContain("First &lt;script&gt;alert(1)&lt;/script&gt;")
    expect(mail!.html).not.toContain("Third")
    expect(mail!.text).toMatch(/One comment waits for you before others\s+see it\./)
    expect(mail!.text).toContain(`/studio/courses/${course}/comments`)
    // What comes later has a message of its own; one whose comment is taken away again has none.
    await say(ana, "Fourth")
    const fourth = (await courseComments(t.s.db, course)).find((c) => c.body === "Fourth")!
    await removeComment(t.s, me(ana), fourth.id)
    t.set(t.at() + 20 * 60_000)
    await sendDue(t.s, "w")
    expect(t.sent).toHaveLength(1)
    // Whoever doesn't want to be told isn't.
    await setMailsComments(owner(), 1, false)
    expect((await accountOf(t.s.db, 1)).mailsComments).toBe(false)
    await say(ana, "Fifth")
    t.set(t.at() + 20 * 60_000)
    await sendDue(t.s, "w")
    expect(t.sent).toHaveLength(1)
  })
})
