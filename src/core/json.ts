// JSON as it was kept: read by what it must be.
import * as v from "valibot"

/** What a text of JSON holds, checked. Throws where it is no JSON, and ValiError where it isn't that. */
export const readJson = <T>(schema: v.GenericSchema<unknown, T>, text: string): T => v.parse(schema, JSON.parse(text))

export const strings: v.GenericSchema<unknown, string[]> = v.array(v.string())
export const numbers: v.GenericSchema<unknown, number[]> = v.array(v.number())
