"use server"

import { type Answer, answered } from "@/app/answer"
import { studio } from "@/app/guard"
import { adoptForecast } from "@/server/numbers/adopt"
import { callSource } from "@/server/numbers/called"
import { readCostFile, sayCost, setMargin } from "@/server/numbers/cost"
import { saveForecast } from "@/server/numbers/forecast"

export const setMarginAction = async (percent: number): Promise<Answer> => answered(setMargin(await studio(), percent))

export const sayCostAction = async (input: unknown): Promise<Answer> => answered(sayCost(await studio(), input))

export const callSourceAction = async (input: unknown): Promise<Answer> => answered(callSource(await studio(), input))

export const saveForecastAction = async (funnel: number, document: unknown): Promise<Answer> =>
  answered(saveForecast(await studio(), funnel, document))

/** Keeps what is tried, and makes the funnel's draft so. */
export const adoptForecastAction = async (funnel: number, document: unknown, seen: number[]): Promise<Answer> =>
  answered(adoptForecast(await studio(), funnel, document, seen))

/** The costs of a CSV, as text; how many lines were taken. */
export async function readCostsAction(text: string): Promise<{ refused?: string; lines?: number }> {
  const done = await readCostFile(await studio(), text.slice(0, 5_000_000))
  if (!("refused" in done)) await answered(Promise.resolve())
  return done
}
