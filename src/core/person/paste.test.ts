import { describe, expect, it } from "vitest"
import { readPeople } from "./paste"

const read = (text: string) => readPeople(text).map((p) => [p.address?.canonical ?? null, p.name])

describe("pasted people", () => {
  it("are read line by line, with names or without", () => {
    expect(read('Ana@Post.example\n\nIvo Kos <ivo@post.example>\r\n"Kos, Eva" <eva@post.example>')).toEqual([
      ["ana@post.example", ""],
      ["ivo@post.example", "Ivo Kos"],
      ["eva@post.example", "Kos, Eva"],
    ])
  })
  it("are read from CSV of any usual kind, with a head or without", () => {
    expect(read('Name,E-mail\nAna,ana@post.example\n"Kos, Ivo",ivo@post.example')).toEqual([
      ["ana@post.example", "Ana"],
      ["ivo@post.example", "Kos, Ivo"],
    ])
    expect(read("ana@post.example;Ana\nivo@post.example;Ivo")).toEqual([
      ["ana@post.example", "Ana"],
      ["ivo@post.example", "Ivo"],
    ])
    expect(read("ana@post.example\tAna\t1990")).toEqual([["ana@post.example", "Ana"]])
  })
  it("say which line can't be read, and cut what is long", () => {
    expect(readPeople("nobody\nana@\nana@post.example")).toMatchObject([
      { typed: "nobody", address: null },
      { typed: "ana@", address: null },
      { address: { canonical: "ana@post.example" } },
    ])
    expect(readPeople(`${"x".repeat(300)} <a@b.example>`)[0]!.name).toHaveLength(80)
    expect(readPeople("")).toEqual([])
  })
})
