// Certificates as they are given, taken away, and seen to be genuine.
import { randomBytes } from "node:crypto"
import { certificateNumber, readCertificateNumber } from "@/core/course/certificate"
import { connectionOf } from "@/core/person/connection"
import { mayTry } from "../attempt"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { keptSheet } from "../draw/draw"
import { schoolHead, schoolLook } from "../school-view"
import { type Listener, oneByOne } from "../tx-context"

/** Whoever has done a course that certifies gets a certificate, once. */
export const giveCertificate: Listener = {
  to: ["course-done"],
  hear: oneByOne(async (tx, h) => {
    if (!h.person || !h.subject) return
    await tx.write(
      `INSERT IGNORE INTO certificate (number, person_id, course_id, name, title, at)
       SELECT ?, p.id, c.id, IF(p.name = '', p.email, p.name), c.title, ? FROM course c JOIN person p ON p.id = ? WHERE c.id = ? AND c.certifies = 1`,
      [certificateNumber(randomBytes(10)), new Date(h.at), h.person, h.subject],
    )
  }),
}

type Row = { number: string; name: string; title: string; at: Date; teacher: string; person_id: number }

const fields =
  "SELECT f.number, f.name, f.title, f.at, c.teacher, f.person_id FROM certificate f JOIN course c ON c.id = f.course_id"

/** The number of somebody's certificate of a course; null where there is none. */
export async function certificateOf(db: Db, person: number, course: number): Promise<string | null> {
  const row = await db.row<Row>(`${fields} WHERE f.person_id = ? AND f.course_id = ?`, [person, course])
  return row?.number ?? null
}

export type Genuine = { readonly number: string; readonly name: string; readonly title: string; readonly at: Date }

/** What a number stands for, for whoever wants to know; null: no certificate has it, or too many were tried from there. */
export async function seeCertificate(s: Context, typed: string, ip: string): Promise<Genuine | "too-many" | null> {
  if (!(await mayTry(s.db, `certificate:${connectionOf(ip)}`, { most: 120, windowMs: 3_600_000 }))) return "too-many"
  const number = readCertificateNumber(typed)
  const row = number ? await s.db.row<Row>(`${fields} WHERE f.number = ?`, [number]) : undefined
  return row ? { number: row.number, name: row.name, title: row.title, at: row.at } : null
}

/** A certificate as PDF, for its owner; undefined for anybody else. Throws `TooBusy`. */
export async function certificateFile(s: Context, person: number, typed: string): Promise<Uint8Array | undefined> {
  const number = readCertificateNumber(typed)
  const row = number
    ? await s.db.row<Row>(`${fields} WHERE f.number = ? AND f.person_id = ?`, [number, person])
    : undefined
  if (!row) return undefined
  const school = await schoolHead(s.db)
  return keptSheet(s.config, `person ${person}`, "certificate", row.number, {
    name: row.name,
    title: row.title,
    teacher: row.teacher,
    school: school.name,
    at: row.at.getTime(),
    zone: school.zone,
    number: row.number,
    url: `${s.config.origin}/learn/certificate/${row.number}`,
    look: await schoolLook(s.db),
  })
}
