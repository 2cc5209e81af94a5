// The name server stand-in: answers for the demo's domain on loopback, with records that can be set and broken.
import { readFile, writeFile } from "node:fs/promises"
import { join } from "node:path"
import dns2 from "dns2"

export type Names = { readonly port: number; close(): Promise<void> }

const file = (folder: string) => join(folder, "names.json")

/** Texts by name. */
export type Records = Readonly<Record<string, readonly string[]>>

export async function readNames(folder: string): Promise<Records> {
  return JSON.parse(await readFile(file(folder), "utf8").catch(() => "{}")) as Records
}

/** Sets the texts at a name; none: there is nothing. */
export async function setName(folder: string, name: string, texts: readonly string[]): Promise<void> {
  await writeFile(file(folder), JSON.stringify({ ...(await readNames(folder)), [name.toLowerCase()]: texts }, null, 1))
}

/** A text is told in pieces of at most 255 bytes (RFC 1035, 3.3). */
const pieces = (text: string): string[] => text.match(/[\s\S]{1,255}/g) ?? [""]

export async function openNames(folder: string, port = 0): Promise<Names> {
  const server = dns2.createServer({
    udp: true,
    handle: async (request, send) => {
      const response = dns2.Packet.createResponseFromRequest(request)
      const [question] = request.questions
      const texts =
        question?.type === dns2.Packet.TYPE.TXT ? ((await readNames(folder))[question.name.toLowerCase()] ?? []) : []
      for (const text of texts)
        response.answers.push({
          name: question!.name,
          type: dns2.Packet.TYPE.TXT,
          class: dns2.Packet.CLASS.IN,
          ttl: 0,
          data: pieces(text),
        } as never)
      send(response)
    },
  })
  const addresses = await server.listen({ udp: { port, address: "127.0.0.1" } })
  return { port: addresses.udp!.port, close: () => server.close() }
}
