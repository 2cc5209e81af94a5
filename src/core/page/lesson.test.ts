// Lessons as pages: those from before, what stands between the HTML, what is still to be said, and which blocks may stand there.
import { describe, expect, it } from "vitest"
import { ruleWords } from "../course/words"
import { blockKinds, lessonBlocks, refsOfBlock } from "./block/list"
import { type Block, PageError } from "./document"
import { newBlock } from "./edit"
import { isOnlyFiles, type LessonSource, lessonGaps, lessonPage, writeLesson } from "./lesson"

const empty: LessonSource = {
  title: "Salt",
  page: null,
  body: "",
  picture_id: null,
  picture_alt: "",
  video_id: null,
  file_id: null,
}
const context = {
  pictures: new Map([[4, { url: "/media/a.webp", width: 960, height: 540 }]]),
  videos: new Map(),
  release: 1,
}

describe("a lesson from before lessons were pages", () => {
  it("is read from what it had: its video or else its picture, its text, its file", () => {
    const all = { ...empty, body: "<p>Two percent.</p>", picture_id: 4, picture_alt: "Salt", file_id: 9 }
    expect(lessonPage(all).blocks).toEqual([
      { id: "picture", kind: "picture", media: 4, alt: "Salt" },
      { id: "text", kind: "text", html: "<p>Two percent.</p>" },
      { id: "file", kind: "download", media: 9, says: "" },
    ])
    expect(lessonPage({ ...all, video_id: 7 }).blocks[0]).toMatchObject({ kind: "player", media: 7, says: "Salt" })
    expect(lessonPage(empty)).toEqual({ version: 1, title: "Salt", blocks: [] })
    expect(lessonPage({ ...empty, title: "x".repeat(160) }).title).toHaveLength(120)
  })

  it("gives way to the page that was written since", () => {
    const page = { version: 1, title: "Salt", blocks: [{ id: "a", kind: "divider" }] }
    expect(lessonPage({ ...empty, body: "<p>Old</p>", page: JSON.stringify(page) })).toEqual(page)
    expect(() => lessonPage({ ...empty, page: '{"version":2}' })).toThrow(PageError)
  })
})

describe("a lesson as it is written", () => {
  it("is HTML, and between it the parts that are made for each learner; its headlines stand below its title", () => {
    const page = lessonPage({
      ...empty,
      page: JSON.stringify({
        version: 1,
        title: "Salt",
        blocks: [
          { id: "h", kind: "headline", text: "Weigh <it>" },
          { id: "p", kind: "picture", media: 4, alt: "A bowl" },
          { ...newBlock("quiz", "q") },
          { id: "t", kind: "text", html: "<p>After.</p>" },
          { ...newBlock("assignment", "w"), asks: "Salt it." },
        ],
      }),
    })
    expect(writeLesson(page, context)).toEqual([
      '<h2 dir="auto">Weigh &lt;it&gt;</h2><img src="/media/a.webp" srcset="/media/a-480.webp 480w,/media/a.webp 960w" sizes="(min-width:44rem) 40rem,100vw" width="960" height="540" alt="A bowl" loading="lazy">',
      { part: "quiz", block: "q" },
      '<div dir="auto"><p>After.</p></div>',
      { part: "assignment", block: "w" },
    ])
    expect(lessonGaps(page)).toEqual(["a question of a quiz is still to be written"])
  })
})

describe("the blocks of lessons", () => {
  it("say what they lack when they are new, refer to nothing, and stand on no page of a funnel unless they are the pages' own", () => {
    for (const kind of lessonBlocks) {
      const fresh = newBlock(kind, "x")
      expect(refsOfBlock(fresh), kind).toEqual([])
      expect(blockKinds[kind].line(fresh), kind).not.toBe("")
      expect(() =>
        lessonPage({ ...empty, page: JSON.stringify({ version: 1, title: "x", blocks: [fresh] }) }),
      ).not.toThrow()
    }
    const lacking = lessonBlocks.filter((k) => blockKinds[k].gap(newBlock(k, "x")) !== null)
    expect(lacking).toEqual(expect.arrayContaining(["player", "audio", "download", "quiz", "assignment", "picture"]))
    expect(lessonBlocks).not.toContain("checkout")
    expect(lessonBlocks).not.toContain("form")
  })

  it("name the media that they play, show or give", () => {
    const uses = (b: Block) => refsOfBlock(b).map((r) => [r.to, r.id, r.use])
    expect(uses({ id: "v", kind: "player", media: 1, says: "", captions: 2, download: true, chapters: [] })).toEqual([
      ["media", 1, "plays it"],
      ["media", 2, "shows it as captions"],
    ])
    expect(uses({ id: "a", kind: "audio", media: 3, says: "" })).toEqual([["media", 3, "plays it"]])
    expect(uses({ id: "f", kind: "download", media: 4, says: "" })).toEqual([["media", 4, "gives it"]])
  })
})

describe("a rule, as its author reads it", () => {
  const title = (id: number) => `Lesson ${id}`
  it.each([
    [{ kind: "at-once" } as const, "At once"],
    [{ kind: "after-days", days: 1, at: null } as const, "One day after they were let in"],
    [{ kind: "after-days", days: 12, at: "06:00" } as const, "Twelve days after they were let in, at 06:00"],
    [{ kind: "after-days", days: 30, at: "06:00" } as const, "30 days after they were let in, at 06:00"],
    [{ kind: "on-date", date: "2027-01-31", at: "18:30" } as const, "On 31 January 2027 at 18:30"],
    [{ kind: "after-lesson", lesson: 3 } as const, "After “Lesson 3”"],
  ])("%j", (rule, says) => expect(ruleWords(rule, title)).toBe(says))
})

describe("a lesson of files", () => {
  const file: Block = { id: "f", kind: "download", media: 1, says: "" }
  const text = (letters: number): Block => ({ id: "t", kind: "text", html: `<p>${"x".repeat(letters)}</p>` })
  const quiz = newBlock("quiz", "q")
  const section = (blocks: Block[]): Block => ({
    ...(newBlock("section", "s") as Extract<Block, { kind: "section" }>),
    blocks,
  })
  it.each<[string, Block[], boolean]>([
    ["a file", [file], true],
    [
      "files with a picture, a headline and a line",
      [file, { ...file, id: "g" }, newBlock("picture", "p"), newBlock("divider", "d")],
      true,
    ],
    ["a file with 400 letters", [text(400), file], true],
    ["a file with a letter more", [text(401), file], false],
    ["words alone", [text(10)], false],
    ["nothing", [], false],
    ["a file and a quiz", [file, quiz], false],
    ["a file and a survey", [file, newBlock("survey", "v")], false],
    ["a file and a video", [file, newBlock("player", "v")], false],
    ["a file in a section", [section([file])], false],
  ])("of %s is one: %s", (_, blocks, is) => {
    expect(isOnlyFiles({ version: 1, title: "x", blocks })).toBe(is)
  })
})
