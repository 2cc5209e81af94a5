// One word for one count: no two figures have the same name, or the same meaning.
import { describe, expect, it } from "vitest"
import { countedAs, type Figure, figures } from "./figures"

describe("figures", () => {
  const all = Object.keys(figures) as Figure[]
  it("each have a name and a meaning of their own", () => {
    expect(new Set(all.map((f) => figures[f].name)).size).toBe(all.length)
    expect(new Set(all.map((f) => figures[f].says)).size).toBe(all.length)
    for (const f of all) expect(figures[f].says).toMatch(/^[a-z].*[^.]$/)
  })

  it("say what they count in one line", () =>
    expect(countedAs(["came", "registered"])).toBe(
      "Came: whoever was in the room, however short. Registered: whoever had a seat at a webinar.",
    ))
})
