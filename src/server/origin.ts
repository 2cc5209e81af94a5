// What gave an admission, as it is written down and as it is said.

import { randomBytes } from "node:crypto"

export const origin = {
  /** A form of a funnel. */
  funnel: (id: number) => `funnel:${id}`,
  /** A line of an order. */
  line: (id: number) => `line:${id}`,
  /** What was set off because of an order. */
  order: (id: number) => `order:${id}`,
  /** By hand; each time is one of its own. */
  hand: (batch: string = randomBytes(6).toString("hex")) => `hand:${batch}`,
  invitation: (id: number) => `invitation:${id}`,
  /** What was set off by anything else that happened. */
  occasion: (effect: number) => `effect:${effect}`,
  /** A step of a sequence. */
  sequence: (id: number) => `sequence:${id}`,
} as const

/**
 * Who gave an admission `d`, in words of the studio, as SQL.
 */
export const originWords = `CASE
  WHEN d.origin LIKE 'funnel:%' THEN COALESCE((SELECT CONCAT('the funnel “', f.name, '”') FROM funnel f WHERE f.id = CAST(SUBSTRING(d.origin, 8) AS UNSIGNED)), d.origin)
  WHEN d.origin LIKE 'line:%' THEN COALESCE((SELECT CONCAT('order ', l.order_id) FROM order_line l WHERE l.id = CAST(SUBSTRING(d.origin, 6) AS UNSIGNED)), d.origin)
  WHEN d.origin LIKE 'order:%' THEN CONCAT('order ', SUBSTRING(d.origin, 7))
  WHEN d.origin LIKE 'invitation:%' THEN COALESCE((SELECT CONCAT('the invitation “', i.name, '”') FROM invitation i WHERE i.id = CAST(SUBSTRING(d.origin, 12) AS UNSIGNED)), d.origin)
  WHEN d.origin LIKE 'hand:%' THEN 'by hand'
  WHEN d.origin LIKE 'effect:%' THEN 'an effect'
  WHEN d.origin LIKE 'sequence:%' THEN COALESCE((SELECT CONCAT('the sequence “', q.name, '”') FROM sequence q WHERE q.id = CAST(SUBSTRING(d.origin, 10) AS UNSIGNED)), d.origin)
  ELSE d.origin END`
