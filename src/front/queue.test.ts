import { describe, expect, it } from "vitest"
import { Full, lookQueue, type Rank } from "./queue"

/** Works that end when they are told to, in the order they began. */
function works() {
  const began: string[] = []
  const ends: (() => void)[] = []
  return {
    began,
    work: (name: string) => () => {
      began.push(name)
      return new Promise<string>((done) => ends.push(() => done(name)))
    },
    endAll: async () => {
      for (let i = 0; i < 50; i++) {
        ends.shift()?.()
        await new Promise((r) => setImmediate(r))
      }
    },
  }
}

const outcome = (p: Promise<string>) => p.then(String, (e) => (e instanceof Full ? "full" : "broken"))

describe("looks that cost", () => {
  it("go a few at once, then whoever has ordered, then who is known, then newcomers", async () => {
    const queue = lookQueue({ atOnce: 1, waiting: 10, ofClient: 10 })
    const { began, work, endAll } = works()
    const all = (["first", "newcomer", "newcomer", "visitor", "buyer"] as const).map((who, i) =>
      queue.enter(`c${i}`, who === "first" ? "newcomer" : who, work(who)),
    )
    await endAll()
    await Promise.all(all)
    expect(began).toEqual(["first", "buyer", "visitor", "newcomer", "newcomer"])
  })

  it("turn newcomers away first where nobody more can wait, and somebody who has ordered last", async () => {
    const queue = lookQueue({ atOnce: 1, waiting: 2, ofClient: 10 })
    const { work, endAll } = works()
    const enter = (rank: Rank, client: string) => outcome(queue.enter(client, rank, work(client)))
    const all = [
      enter("newcomer", "at work"),
      enter("newcomer", "n1"),
      enter("newcomer", "n2"),
      enter("newcomer", "n3"),
      enter("buyer", "b1"),
      enter("visitor", "v1"),
      enter("visitor", "v2"),
      enter("buyer", "b2"),
      enter("buyer", "b3"),
    ]
    await endAll()
    expect(await Promise.all(all)).toEqual(["at work", "full", "full", "full", "b1", "full", "full", "b2", "full"])
  })

  it("turn nobody away for one of the same rank", async () => {
    const queue = lookQueue({ atOnce: 1, waiting: 1, ofClient: 10 })
    const { work, endAll } = works()
    const all = ["a", "b", "c"].map((c) => outcome(queue.enter(c, "newcomer", work(c))))
    await endAll()
    expect(await Promise.all(all)).toEqual(["a", "b", "full"])
  })

  it("of one client wait so many and no more, whatever it says it is; another finds a place", async () => {
    const queue = lookQueue({ atOnce: 1, waiting: 100, ofClient: 3 })
    const { work, endAll } = works()
    const greedy = Array.from({ length: 10 }, (_, i) => outcome(queue.enter("one", "buyer", work(`g${i}`))))
    const other = outcome(queue.enter("two", "newcomer", work("other")))
    await endAll()
    expect((await Promise.all(greedy)).filter((x) => x === "full")).toHaveLength(6)
    expect(await other).toBe("other")
  })

  it("a look that fails gives its place on", async () => {
    const queue = lookQueue({ atOnce: 1, waiting: 10, ofClient: 10 })
    const failed = queue.enter("a", "newcomer", () => Promise.reject(new Error("no")))
    const next = queue.enter("b", "newcomer", async () => "went on")
    await expect(failed).rejects.toThrow("no")
    expect(await next).toBe("went on")
    expect(await queue.enter("c", "newcomer", async () => "and on")).toBe("and on")
  })
})
