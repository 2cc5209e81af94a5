// Rows as they stand in a table, and as they are given to be written.
import type { Tables } from "./tables"

export type Table = keyof Tables
export type Row<T extends Table> = Tables[T]["row"]

type Open<T extends Table> = Tables[T] extends { open: infer O } ? O : never
type MadeBy<T extends Table> = Tables[T] extends { made: infer M } ? M : never
/** A column that is yes or no takes a boolean. */
type Given<V> = number extends V ? V : [0 | 1] extends [V] ? V | boolean : V

/** A new row: a column that is missing or misspelt doesn't compile. */
export type New<T extends Table> = {
  readonly [K in Exclude<keyof Row<T>, Open<T> | MadeBy<T>>]: Given<Row<T>[K]>
} & { readonly [K in Extract<keyof Row<T>, Open<T>>]?: Given<Row<T>[K]> }
