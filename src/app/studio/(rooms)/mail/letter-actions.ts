"use server"

import { studio, studioSession } from "@/app/guard"
import { checkTyped, type LetterTyped, plainTyped, previewFor, testLetter } from "@/server/mail/try-letter"

export const checkLetterAction = async (letter: LetterTyped) => checkTyped(await studio(), letter)
export const previewLetterAction = async (letter: LetterTyped, whom: string) => previewFor(await studio(), letter, whom)
export async function plainLetterAction(letter: LetterTyped): Promise<string> {
  return plainTyped(await studio(), letter)
}
export async function testLetterAction(letter: LetterTyped) {
  const { account } = await studioSession()
  return testLetter(await studio(), letter, account)
}
