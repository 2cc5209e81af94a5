// The looks that a school can wear.
import { broadsheet } from "./broadsheet"
import { conservatory } from "./conservatory"
import type { LookModule } from "./kind"
import { kitchenTable } from "./kitchen-table"
import { marketPoster } from "./market-poster"
import { nightfall } from "./nightfall"
import { pantry } from "./pantry"
import { workshop } from "./workshop"

export const lookKinds = {
  "kitchen-table": kitchenTable,
  broadsheet,
  nightfall,
  conservatory,
  workshop,
  "market-poster": marketPoster,
  pantry,
} as const satisfies Record<string, LookModule>

export type LookKind = keyof typeof lookKinds

export const lookNames = Object.keys(lookKinds) as [LookKind, ...LookKind[]]

export const isLookKind = (name: string): name is LookKind => Object.hasOwn(lookKinds, name)
