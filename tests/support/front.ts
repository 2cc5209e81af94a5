// The web process of a test's school, without the screens: pages, forms and files at an address of its own.
import { type FrontServer, frontServer } from "@/front/server"
import type { Context } from "@/server/context"

export type TestFront = {
  readonly web: FrontServer
  readonly origin: string
  /** A look, that follows nothing. */
  get(path: string, headers?: Record<string, string>): Promise<Response>
  stop(): Promise<void>
}

export async function openFront(s: Context): Promise<TestFront> {
  const web = frontServer(s, async (_, res) => void res.end("next"))
  await web.front.live.refresh()
  await new Promise<void>((r) => web.server.listen(0, "127.0.0.1", () => r()))
  const origin = `http://127.0.0.1:${(web.server.address() as { port: number }).port}`
  return {
    web,
    origin,
    get: (path, headers = {}) => fetch(origin + path, { redirect: "manual", headers }),
    stop: () => web.close(),
  }
}
