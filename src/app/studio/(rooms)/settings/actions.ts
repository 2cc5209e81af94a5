"use server"

import { studio } from "@/app/door"
import { saveSchool } from "@/server/school"

export async function saveSchoolAction(input: unknown): Promise<{ refused: string; field?: string } | null> {
  return saveSchool(await studio(), input)
}
