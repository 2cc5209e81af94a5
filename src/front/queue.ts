// Looks at pages that are made anew cost the database's time. They wait here for their turn, so that placing an order never
// waits behind them: a few at once, a queue with an end, so many of one client, and whoever holds an order first.

/** There is no place left to wait in. */
export class Full extends Error {}

/** Who looks, from whom is turned away first to last: nobody known, a visitor known by their browser, somebody who has ordered. */
export const ranks = ["newcomer", "visitor", "buyer"] as const
export type Rank = (typeof ranks)[number]

export type LookQueue = {
  /** Does the work when its turn has come; throws `Full` where there is no place to wait. */
  enter<T>(client: string, rank: Rank, work: () => Promise<T>): Promise<T>
}

type Waiting = { readonly client: string; readonly go: () => void; readonly turnAway: () => void }

/** @param most how many at once, how many wait, and how many of one client */
export function lookQueue(most = { atOnce: 6, waiting: 240, ofClient: 60 }): LookQueue {
  const lines: Record<Rank, Waiting[]> = { newcomer: [], visitor: [], buyer: [] }
  const clients = new Map<string, number>()
  let working = 0
  let waiting = 0
  const leave = (client: string) => {
    const left = (clients.get(client) ?? 1) - 1
    if (left) clients.set(client, left)
    else clients.delete(client)
  }
  /** Turns away the last of a lower rank; whether there was one. */
  const makeRoom = (rank: Rank) => {
    const lower = ranks.slice(0, ranks.indexOf(rank)).find((r) => lines[r].length)
    if (!lower) return false
    lines[lower].pop()!.turnAway()
    return true
  }
  const turn = (client: string, rank: Rank) =>
    new Promise<void>((go, turnAway) => {
      if ((clients.get(client) ?? 0) >= most.ofClient || (waiting >= most.waiting && !makeRoom(rank)))
        return turnAway(new Full())
      waiting++
      clients.set(client, (clients.get(client) ?? 0) + 1)
      const out = () => {
        waiting--
        leave(client)
      }
      lines[rank].push({
        client,
        go: () => {
          out()
          go()
        },
        turnAway: () => {
          out()
          turnAway(new Full())
        },
      })
    })
  return {
    async enter(client, rank, work) {
      if (working >= most.atOnce) await turn(client, rank)
      else working++
      try {
        return await work()
      } finally {
        // Whoever is next takes over the place.
        const next = ranks.toReversed().find((r) => lines[r].length)
        if (next) lines[next].shift()!.go()
        else working--
      }
    },
  }
}
