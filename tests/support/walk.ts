// The demo of a fixed instant with its processor beside it, walked on from one due instant to the next.
import { join } from "node:path"
import { loadDemo } from "@demo/load"
import { doWhatWaits, nextDueInstant } from "@/server/due-list"
import { httpCards } from "@/server/port/cards"
import { openProcessor, type Processor } from "@/standins/processor/server"
import { type TestSchool, testSchool } from "./school"
import { hookSecret } from "./shop"

export const demoInstant = Date.UTC(2026, 10, 24, 9)

export type WalkedDemo = {
  readonly t: TestSchool
  readonly processor: Processor
  walk(days: number): Promise<void>
  end(): Promise<void>
}

export async function openWalkedDemo(name: string, visitors: number): Promise<WalkedDemo> {
  const plain = await testSchool(name, { start: new Date(demoInstant).toISOString() })
  const before = { ...plain, s: { ...plain.s, cards: httpCards({ url: "http://127.0.0.1:9", key: "", hookSecret }) } }
  await loadDemo(before.s, visitors, demoInstant)
  const processor = await openProcessor({
    folder: join(plain.s.config.dataFolder, "processor"),
    port: 0,
    key: "k",
    hookTo: "",
    hookSecret,
  })
  const t = { ...plain, s: { ...plain.s, cards: httpCards({ url: processor.origin, key: "k", hookSecret }) } }
  return {
    t,
    processor,
    async walk(days) {
      const until = t.at() + days * 86_400_000
      for (;;) {
        // What isn't said to wait isn't done: a question that forgot something would show in what the walk comes to.
        for (let i = 0; i < 20 && (await doWhatWaits(t.s, "walk")); i++);
        const next = await nextDueInstant(t.s)
        if (next === null || next > until) break
        t.set(Math.max(next, t.at()))
      }
      t.set(until)
    },
    async end() {
      await processor.close()
      await plain.end()
    },
  }
}
