import { createServer } from "node:net"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { listenerOf, portOrStop } from "./port"

const server = createServer()
let port = 0
beforeAll(async () => {
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done))
  const at = server.address()
  port = typeof at === "object" && at ? at.port : 0
})
afterAll(() => void server.close())

describe("a port that is taken", () => {
  it("is told with who has it and what to do, in one sentence", async () => {
    await expect(portOrStop(port)).rejects.toThrow(
      new RegExp(
        `^Port ${port} is taken by .+ \\(process ${process.pid}\\)\\. End it, or choose another with --port\\.$`,
      ),
    )
    expect(listenerOf(port)?.pid).toBe(process.pid)
  })
  it("is free again once its owner is gone", async () => {
    await new Promise((done) => server.close(done))
    await expect(portOrStop(port)).resolves.toBeUndefined()
    expect(listenerOf(port)).toBeNull()
  })
})
