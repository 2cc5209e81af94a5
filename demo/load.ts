// Fills an empty installation with the demo school Juniper Crock.
import { rm } from "node:fs/promises"
import type { Db } from "@/server/db/pool"
import { addEffect } from "@/server/funnel/edit"
import { loadFunnel } from "@/server/funnel/load"
import { newFunnel } from "@/server/funnel/new-funnel"
import { forgetReleases, publishFunnel } from "@/server/funnel/release"
import { rollUp } from "@/server/funnel/rollup"
import { beat } from "@/server/health"
import { storeMedia } from "@/server/media/store"
import { cleanRichText } from "@/server/page/rich-text"
import { makeOwner } from "@/server/person/account"
import type { Surroundings } from "@/server/surroundings"
import { demoAccount } from "./account"
import { firstCrock, school, yearInFerments } from "./lessons"
import { drawScene, lessonScenes } from "./pictures"
import { makeTraffic } from "./traffic"

const day = 86_400_000

export async function isDemoLoaded(db: Db): Promise<boolean> {
  return (await db.row("SELECT 1 FROM heartbeat WHERE name = 'demo loaded'")) !== undefined
}

/** Empties every table and loads the demo. `visitors` over 40 days. */
export async function loadDemo(s: Surroundings, visitors = 5200): Promise<void> {
  await empty(s)
  const now = Date.now()
  const past: Surroundings = { ...s, clock: { now: async () => now - 41 * day } }
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
  const course = await writeCourse(past)
  await writeDraft(past)
  const made = await newFunnel(past, { goal: "mini-course", course })
  if (!("funnel" in made)) throw new Error(made.refused)
  await s.db.write("UPDATE step SET path = REPLACE(path, 'the-first-crock', 'first-crock') WHERE funnel_id = ?", [
    made.funnel,
  ])
  const draft = (await loadFunnel(s.db, made.funnel))!
  const welcome = draft.steps.find((x) => x.kind === "welcome")!
  await addEffect(past, { step: welcome.id, outcome: "started", kind: "tag-on", tag: "first lesson" })
  const tag = (await s.db.row<{ id: number }>("SELECT id FROM tag WHERE name = 'first lesson'"))!.id
  const published = await publishFunnel(past, made.funnel)
  if (!("release" in published))
    throw new Error(`${published.refused} ${published.findings.map((f) => f.suffers).join(" ")}`)
  const funnel = (await loadFunnel(s.db, made.funnel))!
  await makeTraffic(s.db, { funnel, release: published.release, now, days: 40, visitors, tag })
  while ((await rollUp(s, 0)) > 0);
  await beat(s, "demo loaded")
}

async function empty(s: Surroundings): Promise<void> {
  const tables = await s.db.rows<{ name: string }>(
    "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name NOT IN ('migration', 'clock', 'rollup_mark')",
  )
  await s.db.transaction(async (tx) => {
    await tx.write("SET SESSION foreign_key_checks = 0")
    for (const t of tables) await tx.write(`TRUNCATE TABLE \`${t.name}\``)
    await tx.write("SET SESSION foreign_key_checks = 1")
    await tx.write("UPDATE clock SET offset_ms = 0")
    await tx.write("UPDATE rollup_mark SET fact_id = 0")
  })
  forgetReleases()
  await rm(s.config.mailboxFolder, { recursive: true, force: true })
  await rm(s.config.mediaFolder, { recursive: true, force: true })
}

async function picture(s: Surroundings, scene: Parameters<typeof drawScene>[0]): Promise<number> {
  const stored = await storeMedia(s, "picture", `${scene}.png`, await drawScene(scene))
  if (!("id" in stored)) throw new Error(stored.refused)
  return stored.id
}

async function writeCourse(s: Surroundings): Promise<number> {
  const at = new Date(await s.clock.now())
  const cover = await picture(s, "cover")
  const course = await s.db.write(
    "INSERT INTO course (slug, title, promise, teacher, picture_id, state, made_at, changed_at) VALUES ('the-first-crock', ?, ?, ?, ?, 'live', ?, ?)",
    [firstCrock.title, firstCrock.promise, firstCrock.teacher, cover, at, at],
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

async function writeDraft(s: Surroundings): Promise<void> {
  const at = new Date(await s.clock.now())
  const course = await s.db.write(
    "INSERT INTO course (slug, title, promise, teacher, state, made_at, changed_at) VALUES ('a-year-in-ferments', ?, ?, ?, 'draft', ?, ?)",
    [yearInFerments.title, yearInFerments.promise, firstCrock.teacher, at, at],
  )
  for (const [i, title] of yearInFerments.lessons.entries())
    await s.db.write("INSERT INTO lesson (course_id, position, title, body) VALUES (?, ?, ?, '')", [
      course.id,
      i + 1,
      title,
    ])
}
