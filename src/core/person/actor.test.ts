// Who may do what: the whole table, so that a new kind of actor may nothing by itself.
import { expect, it } from "vitest"
import { type Act, type Actor, actorText, may, nobody, theWorker } from "./actor"

const actors: Record<string, Actor> = {
  teacher: { is: "account", id: 3 },
  learner: { is: "person", id: 12, scope: null },
  "the device of an order": { is: "person", id: 12, scope: "order" },
  "another learner": { is: "person", id: 13, scope: null },
  affiliate: { is: "affiliate", id: 12 },
  worker: theWorker,
  stranger: nobody,
}

it.each<[Act, readonly string[]]>([
  ["work in the studio", ["teacher"]],
  ["learn", ["learner", "the device of an order", "another learner"]],
  ["see orders of", ["teacher", "learner"]],
])("%s: %j", (act, those) => {
  for (const [name, actor] of Object.entries(actors))
    expect([name, may(actor, act, { person: 12 })]).toEqual([name, those.includes(name)])
})

it("what is nobody's in particular is no learner's", () => {
  expect(may(actors.learner!, "see orders of")).toBe(false)
})

it("who did something is kept beside it, but for strangers", () => {
  expect(Object.values(actors).map(actorText)).toEqual([
    "account:3",
    "person:12",
    "person:12",
    "person:13",
    "affiliate:12",
    "worker",
    null,
  ])
})
