// Fills an empty installation with the demo school Juniper Crock.
import { createHash } from "node:crypto"
import { rm } from "node:fs/promises"
import { join } from "node:path"
import { Temporal } from "temporal-polyfill"
import { certificateNumber } from "@/core/course/certificate"
import { plainly } from "@/core/look/look"
import { legalKinds, legalSkeleton } from "@/core/page/legal"
import { lessonPage } from "@/core/page/lesson"
import { today } from "@/server/clock"
import type { Context } from "@/server/context"
import type { LessonRow } from "@/server/course/course"
import { saveLessonPage } from "@/server/course/lesson-page"
import { addQuote } from "@/server/course/quote"
import { newTeacher } from "@/server/course/teacher"
import { loadFunnel } from "@/server/funnel/load"
import { newFunnel } from "@/server/funnel/new-funnel"
import { publishFunnel } from "@/server/funnel/release"
import { gatherRests, rollRests, rollUp } from "@/server/funnel/rollup"
import { addEffect } from "@/server/funnel/steps"
import { beat } from "@/server/heartbeat"
import { rollJournal } from "@/server/ledger/balance"
import { storeMedia } from "@/server/media/store"
import { newNotice, saveNotice } from "@/server/notice/notice"
import { sayCost } from "@/server/numbers/cost"
import { makeForecast } from "@/server/numbers/forecast"
import { rollSold } from "@/server/numbers/roll-sold"
import { rollSources } from "@/server/numbers/roll-sources"
import { legalFacts, putUpLegal, saveLegal } from "@/server/page/legal"
import { cleanRichText } from "@/server/page/rich-text"
import { makeOwner } from "@/server/person/account"
import { newSegment, saveSegment } from "@/server/person/segment"
import { schoolZone } from "@/server/school-view"
import { rollTally } from "@/server/tally"
import { referAll } from "@/server/upgrade"
import { demoAccount } from "./account"
import { makeAffiliates } from "./affiliates"
import { makeFields } from "./fields"
import { makeFollowUp } from "./follow-up"
import {
  comments,
  crockSurvey,
  firstCrock,
  handedIn,
  learnersSaid,
  maren,
  notices,
  rootsWork,
  school,
  segments,
  surveyWords,
} from "./lessons"
import { drawScene, drawSquare, lessonScenes, type Square } from "./pictures"
import { makeSales } from "./sales"
import { openCatalogue, openDemoShop } from "./shop"
import { makeTraffic } from "./traffic"
import { videoBlock } from "./video"
import { openDemoWebinar } from "./webinar"
import { holdWebinars, type Seats, writeSeats } from "./webinar-guests"

const day = 86_400_000

/** Empties every table and loads the demo: `visitors` over the 40 days before `now` (ms), the same for the same `now`. */
export async function loadDemo(s: Context, visitors = 5200, now = today()): Promise<void> {
  await empty(s, now)
  const past: Context = { ...s, clock: { now: async () => now - 41 * day } }
  await makeOwner(past, {
    school: school.name,
    name: "Maren Solvik",
    email: demoAccount.email,
    password: demoAccount.password,
  })
  await s.db.write("UPDATE school SET sender_name = ?, sender_email = ?, postal_address = ?, zone = ? WHERE id = 1", [
    school.senderName,
    school.senderEmail,
    school.postalAddress,
    school.zone,
  ])
  await s.db.write("UPDATE school SET look = ? WHERE id = 1", [JSON.stringify(plainly("pantry"))])
  const teacher = await newTeacher(past, { name: "Maren Solvik", about: maren, media: await square(past, "maren") })
  if ("refused" in teacher) throw new Error(teacher.refused)
  await writeLegalPages(past)
  const course = await writeCourse(past)
  const made = await newFunnel(past, { goal: "mini-course", course })
  if (!("funnel" in made)) throw new Error(made.refused)
  await s.db.write("UPDATE step SET path = REPLACE(path, 'the-first-crock', 'first-crock') WHERE funnel_id = ?", [
    made.funnel,
  ])
  const draft = (await loadFunnel(s.db, made.funnel))!
  const welcome = draft.steps.find((x) => x.kind === "welcome")!
  await addEffect(past, { step: welcome.id, outcome: "started", kind: "tag-on", tag: "first lesson" })
  await s.db.write("DELETE FROM funnel_before")
  const tag = (await s.db.row<{ id: number }>("SELECT id FROM tag WHERE name = 'first lesson'"))!.id
  const published = await publishFunnel(past, made.funnel)
  if (!("release" in published))
    throw new Error(`${published.refused} ${published.findings.map((f) => f.suffers).join(" ")}`)
  const funnel = (await loadFunnel(s.db, made.funnel))!
  await makeTraffic(s.db, { funnel, release: published.release, now, days: 40, visitors, tag })
  const lastYear: Context = { ...s, clock: { now: async () => now - 366 * day } }
  const shop = await openDemoShop(lastYear, now, {
    pictures: [await square(past, "year"), await picture(past, "tray")],
    chart: await brineChart(past),
  })
  const sale = (await loadFunnel(s.db, shop.funnel))!
  const halfAYear: Context = { ...s, clock: { now: async () => now - 150 * day } }
  const webinar = await openDemoWebinar(halfAYear, now)
  let seats: Seats | undefined
  await makeSales(s, shop, sale, { now, days: 365, visitors: Math.round(visitors * 0.9) }, (m) => {
    seats = holdWebinars(m, webinar, visitors / 5200)
  })
  await writeSeats(s.db, webinar, seats!, now)
  await makeAffiliates(
    { ...s, clock: { now: async () => now } },
    { sale: shop.funnel, free: made.funnel, picture: shop.picture },
    now,
  )
  while ((await rollUp(s)) > 0);
  while ((await rollRests(s)) > 0);
  while ((await rollTally(s)) > 0);
  while ((await gatherRests(s)) > 0);
  while ((await rollJournal(s, 0)) > 0);
  await s.db.write(
    "INSERT INTO lesson_seen (person_id, lesson_id, at, last_at) SELECT person_id, subject_id, MIN(at), MAX(at) FROM fact WHERE kind = 'lesson-opened' AND person_id IS NOT NULL GROUP BY 1, 2",
  )
  await openCatalogue(past)
  await quoteLearners(past)
  await putVideos(past)
  await talkAndCertify(s)
  await askAndNotice(s)
  await spend({ ...s, clock: { now: async () => now } })
  while ((await rollSources(s)) > 0);
  while ((await rollSold(s.db)) > 0);
  await forecastMondays(s, now)
  // Every other one lets pages say their first name.
  await s.db.write("UPDATE person SET name_shown_at = joined_at WHERE id % 2 = 0")
  await s.db.transaction(referAll)
  const one = async (sql: string) => (await s.db.row<{ id: number }>(sql))!.id
  await makeFollowUp(
    { ...s, clock: { now: async () => now } },
    {
      offer: await one("SELECT id FROM offer WHERE public_name = 'A Year in Ferments'"),
      course: await one("SELECT id FROM course WHERE slug = 'a-year-in-ferments'"),
      lastLesson: await one(
        "SELECT l.id FROM lesson l JOIN course c ON c.id = l.course_id AND c.slug = 'the-first-crock' ORDER BY l.position DESC LIMIT 1",
      ),
      crockSequence: draft.sequences[0]!.id,
      salesPage: sale.steps[0]!.id,
      jars: await one("SELECT id FROM field WHERE kind = 'number'"),
      picture: await one("SELECT picture_id AS id FROM course WHERE slug = 'the-first-crock'"),
    },
  )
  await beat(s, "demo loaded")
}

/** What was spent on some of the sources in the last nine weeks. */
async function spend(s: Context): Promise<void> {
  const now = await s.clock.now()
  const at = (days: number) => new Date(now + days * day).toISOString().slice(0, 10)
  for (const [source, amount] of [
    ["podcast guest spot", "2400.00"],
    ["search.example", "5200.00"],
    ["bread and brine", "360.00"],
  ] as const) {
    const kept = await sayCost(s, { source, from: at(-62), to: at(0), amount })
    if ("refused" in kept) throw new Error(kept.refused)
  }
  // What search engines sent.
  await s.db.write(
    "INSERT INTO robot_day (funnel_id, day, looks) SELECT f.id, DATE(?) - INTERVAL d.seq DAY, 3 + CRC32(CONCAT(f.id, ':', d.seq)) MOD 14 FROM funnel f JOIN seq_0_to_180 d",
    [new Date(now)],
  )
}

/** Every funnel was forecast on each of the last Mondays, by what was known then. */
async function forecastMondays(s: Context, now: number): Promise<void> {
  const zone = await schoolZone(s.db)
  const today = Temporal.Instant.fromEpochMilliseconds(now).toZonedDateTimeISO(zone)
  const monday = today.subtract({ days: today.dayOfWeek - 1 }).with({ hour: 1, minute: 0 })
  const funnels = await s.db.rows<{ id: number }>("SELECT DISTINCT funnel_id AS id FROM source_day")
  for (let week = 6; week >= 0; week--) {
    const at = monday.subtract({ weeks: week }).epochMilliseconds
    for (const { id } of at < now ? funnels : []) await makeForecast({ ...s, clock: { now: async () => at } }, id)
  }
}

/** What those who have done the mini-course answered to its survey; notices on the shelf, on the sign-in page, and one that is off. */
async function askAndNotice(s: Context): Promise<void> {
  const last = await s.db.row<{ id: number }>(
    "SELECT l.id FROM lesson l JOIN course c ON c.id = l.course_id AND c.slug = 'the-first-crock' ORDER BY l.position DESC LIMIT 1",
  )
  const done = await s.db.rows<{ person: number; at: Date }>(
    "SELECT person_id AS person, at FROM lesson_done WHERE lesson_id = ? ORDER BY at, person_id",
    [last!.id],
  )
  // Two of three who came to the end answered.
  const rows = done.flatMap((d, i) => {
    if (i % 3 === 2) return []
    const words = surveyWords[i % 7]
    const answers = {
      sour: [i % 5 === 0 ? 2 : i % 4 === 0 ? 1 : 0],
      how: 5 - (i % 6 === 0 ? 2 : i % 3 === 0 ? 1 : 0),
      good: 5 - (i % 7 === 0 ? 1 : 0),
      ...(words ? { next: words } : {}),
    }
    return [[d.person, last!.id, crockSurvey.id, JSON.stringify(answers), d.at]]
  })
  if (rows.length)
    await s.db.write("INSERT INTO survey_answer (person_id, lesson_id, block, answers, at) VALUES ?", [rows])
  const course = async (slug: string) =>
    (await s.db.row<{ id: number }>("SELECT id FROM course WHERE slug = ?", [slug]))!.id
  const offer = (await s.db.row<{ id: number }>("SELECT id FROM offer WHERE public_name = 'A Year in Ferments'"))!.id
  const [first, year] = [await course("the-first-crock"), await course("a-year-in-ferments")]
  const koji = await course("the-koji-tray")
  const tag = (await s.db.row<{ id: number }>("SELECT id FROM tag WHERE name = 'first lesson'"))!.id
  const cellar = await makeFields(s)
  for (const [name, question] of segments({ first, year, koji, offer, tag, cellar, lastLesson: last!.id })) {
    const made = await newSegment(s, name)
    if ("refused" in made) throw new Error(made.refused)
    const saved = await saveSegment(s, made.id, { question })
    if ("refused" in saved) throw new Error(saved.refused)
  }
  for (const n of notices({ first, year, offer })) {
    const made = await newNotice(s, n.title)
    if ("refused" in made) throw new Error(made.refused)
    const saved = await saveNotice(s, made.id, n)
    if ("refused" in saved) throw new Error(saved.refused)
    await s.db.write("UPDATE notice SET seen = ? WHERE id = ?", [n.strangers, made.id])
    if (n.place !== "shelf") continue
    // Some of those who have the mini-course alone saw it, one to three times, and one in nine pressed.
    await s.db.write(
      `INSERT INTO notice_seen (notice_id, person_id, times, pressed_at) SELECT ?, a.person_id, 1 + a.person_id MOD 3, IF(a.person_id MOD 9 = 0, ?, NULL) FROM admission a
       WHERE a.course_id = ? AND a.person_id MOD 4 = 0 AND NOT EXISTS (SELECT 1 FROM admission b WHERE b.person_id = a.person_id AND b.course_id = ?) GROUP BY a.person_id`,
      [made.id, new Date(await s.clock.now()), first, year],
    )
    await s.db.write(
      "UPDATE notice n SET seen = (SELECT SUM(times) FROM notice_seen x WHERE x.notice_id = n.id), pressed = (SELECT COUNT(pressed_at) FROM notice_seen x WHERE x.notice_id = n.id) WHERE id = ?",
      [made.id],
    )
  }
}

/** The lessons of the mini-course become pages with a video each, the last one with a survey; January gets its video. */
async function putVideos(s: Context): Promise<void> {
  const lessons = await s.db.rows<LessonRow>(
    "SELECT l.* FROM lesson l JOIN course c ON c.id = l.course_id WHERE c.slug = 'the-first-crock' ORDER BY l.position",
  )
  const put = async (lesson: LessonRow, blocks: readonly unknown[]) => {
    const saved = await saveLessonPage(s, lesson.id, lesson.page_revision, { version: 1, title: lesson.title, blocks })
    if ("refused" in saved) throw new Error(saved.refused)
  }
  for (const [i, l] of lessons.entries()) {
    const rest = lessonPage(l).blocks.filter((b) => b.id !== "picture")
    const survey = i === lessons.length - 1 ? [crockSurvey] : []
    await put(l, [await videoBlock(s, lessonScenes[i]!, firstCrock.lessons[i]!.alt), ...rest, ...survey])
  }
  const january = await s.db.row<LessonRow>(
    "SELECT l.* FROM lesson l JOIN course c ON c.id = l.course_id WHERE c.slug = 'a-year-in-ferments' ORDER BY l.position LIMIT 1",
  )
  if (january)
    await put(january, [await videoBlock(s, "shelf", "The shelf, and where we begin"), ...lessonPage(january).blocks])
}

/** Comments below the first lessons, one of which waits for Maren; a certificate for whoever has done all of the mini-course. */
async function talkAndCertify(s: Context): Promise<void> {
  const now = await s.clock.now()
  const [course] = await s.db.rows<{ id: number }>("SELECT id FROM course WHERE slug = 'the-first-crock'")
  const lessons = (
    await s.db.rows<{ id: number }>("SELECT id FROM lesson WHERE course_id = ? ORDER BY position", [course!.id])
  ).map((l) => l.id)
  await s.db.write("UPDATE course SET certifies = 1 WHERE id = ?", [course!.id])
  await s.db.write("UPDATE lesson SET comments = IF(id = ?, 'moderated', 'on') WHERE course_id = ?", [
    lessons[1],
    course!.id,
  ])
  const readers = await s.db.rows<{ id: number }>(
    "SELECT person_id AS id FROM lesson_done WHERE lesson_id = ? ORDER BY at DESC, person_id LIMIT 3",
    [lessons[0]],
  )
  const account = await s.db.row<{ id: number }>("SELECT id FROM account LIMIT 1")
  for (const [i, c] of comments.entries()) {
    const reader = readers[i % readers.length]
    if (!reader || !account) continue
    const at = now - (3 - i) * day
    const made = await s.db.write(
      "INSERT INTO comment (lesson_id, person_id, body, state, at) VALUES (?, ?, ?, ?, ?)",
      [lessons[c.lesson], reader.id, c.says, c.answer ? "shown" : "waiting", new Date(at)],
    )
    if (c.answer)
      await s.db.write(
        "INSERT INTO comment (lesson_id, answers_id, account_id, body, state, at) VALUES (?, ?, ?, ?, 'shown', ?)",
        [lessons[c.lesson], made.id, account.id, c.answer, new Date(at + 3 * 3_600_000)],
      )
  }
  const buyer = await s.db.row<{ person: number; lesson: number }>(
    "SELECT s.person_id AS person, l.id AS lesson FROM lesson l JOIN course c ON c.id = l.course_id AND c.slug = 'a-year-in-ferments' JOIN lesson_seen s ON s.lesson_id = l.id ORDER BY l.position, s.at DESC, s.person_id LIMIT 1",
  )
  if (buyer)
    await s.db.write(
      "INSERT INTO hand_in (person_id, lesson_id, block, body, state, at) VALUES (?, ?, ?, ?, 'waiting', ?)",
      [buyer.person, buyer.lesson, rootsWork.id, handedIn, new Date(now - day / 2)],
    )
  const through = await s.db.rows<{ id: number; name: string; at: Date }>(
    "SELECT d.person_id AS id, p.name, MAX(d.at) AS at FROM lesson_done d JOIN person p ON p.id = d.person_id WHERE d.lesson_id IN (?) GROUP BY d.person_id HAVING COUNT(*) = ?",
    [lessons, lessons.length],
  )
  if (through.length)
    await s.db.write("INSERT INTO certificate (number, person_id, course_id, name, title, at) VALUES ?", [
      through.map((p) => [
        certificateNumber(createHash("sha256").update(`certificate ${p.id}`).digest()),
        p.id,
        course!.id,
        p.name,
        firstCrock.title,
        p.at,
      ]),
    ])
}

async function empty(s: Context, now: number): Promise<void> {
  const tables = await s.db.rows<{ name: string }>(
    "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE() AND table_type = 'BASE TABLE' AND table_name NOT IN ('migration', 'clock', 'rollup_mark')",
  )
  await s.db.transaction(async (tx) => {
    await tx.write("SET SESSION foreign_key_checks = 0")
    for (const t of tables) await tx.write(`TRUNCATE TABLE \`${t.name}\``)
    await tx.write("SET SESSION foreign_key_checks = 1")
    await tx.write("UPDATE clock SET offset_ms = ?", [Math.round(now - Date.now())])
    await tx.write("UPDATE rollup_mark SET fact_id = 0")
    await tx.write("INSERT INTO affiliate_rules (id) VALUES (1)")
  }, 600_000)
  s.releases.forget()
  await rm(s.config.mailboxFolder, { recursive: true, force: true })
  await rm(s.config.mediaFolder, { recursive: true, force: true })
  await rm(join(s.config.dataFolder, "processor"), { recursive: true, force: true })
  await rm(join(s.config.dataFolder, "payouts"), { recursive: true, force: true })
}

/** What learners say of both courses, chosen by the school. */
async function quoteLearners(s: Context): Promise<void> {
  for (const [slug, said] of [
    ["a-year-in-ferments", learnersSaid.year],
    ["the-first-crock", learnersSaid.crock],
  ] as const) {
    const course = (await s.db.row<{ id: number }>("SELECT id FROM course WHERE slug = ?", [slug]))!.id
    // The last that is written stands first.
    for (const [words, name, face] of said.toReversed()) {
      const consent = "They wrote it to us, and agreed by e-mail."
      const done = await addQuote(s, { course, words, name, media: await square(s, face), consent })
      if ("refused" in done) throw new Error(done.refused)
    }
  }
}

async function square(s: Context, name: Square): Promise<number> {
  const stored = await storeMedia(s, "picture", `${name}.png`, await drawSquare(name))
  if (!("id" in stored)) throw new Error(stored.refused)
  return stored.id
}

async function picture(s: Context, scene: Parameters<typeof drawScene>[0]): Promise<number> {
  const stored = await storeMedia(s, "picture", `${scene}.png`, await drawScene(scene))
  if (!("id" in stored)) throw new Error(stored.refused)
  return stored.id
}

async function brineChart(s: Context): Promise<number> {
  const sheet =
    "Salt for 1 litre of water\n2 %  20 g  soft, quick\n3 %  30 g  most things\n5 %  50 g  cucumbers in July\n\nDays at 20 degrees\nradish 5, cucumber 7, cabbage 21, beet 14\n"
  const stored = await storeMedia(s, "file", "The Brine Chart.txt", Buffer.from(sheet))
  if (!("id" in stored)) throw new Error(stored.refused)
  return stored.id
}

/** As the skeletons say it of what the school is going to sell. */
async function writeLegalPages(s: Context): Promise<void> {
  const facts = { ...(await legalFacts(s)), sells: true, refunds: [{ name: "A Year in Ferments", days: 30 }] }
  for (const kind of legalKinds) {
    await saveLegal(s, kind, { html: legalSkeleton(kind, facts) })
    await putUpLegal(s, kind)
  }
}

async function writeCourse(s: Context): Promise<number> {
  const at = new Date(await s.clock.now())
  const cover = await square(s, "jar")
  const course = await s.db.write(
    "INSERT INTO course (slug, title, promise, promises, teacher, picture_id, state, made_at, changed_at) VALUES ('the-first-crock', ?, ?, ?, ?, ?, 'live', ?, ?)",
    [firstCrock.title, firstCrock.promise, JSON.stringify(firstCrock.promises), firstCrock.teacher, cover, at, at],
  )
  for (const [i, l] of firstCrock.lessons.entries()) {
    const file =
      i === 0
        ? await storeMedia(
            s,
            "file",
            "Shopping list.txt",
            Buffer.from(
              "One white cabbage, about 1 kg\n20 g plain salt for each kilogram\nA jar of one litre\nA small glass or a boiled stone as weight\n",
            ),
          )
        : null
    await s.db.write(
      "INSERT INTO lesson (course_id, position, title, body, minutes, picture_id, picture_alt, file_id, state) VALUES (?, ?, ?, ?, ?, ?, ?, ?, 'live')",
      [
        course.id,
        i + 1,
        l.title,
        cleanRichText(l.body),
        l.minutes,
        await picture(s, lessonScenes[i]!),
        l.alt,
        file && "id" in file ? file.id : null,
      ],
    )
  }
  return course.id
}
