// A file of rows as the browser keeps it, made piece by piece.

export const csvResponse = (name: string, pieces: AsyncGenerator<string>): Response =>
  streamed(`${name}.csv`, "text/csv; header=present", pieces)

export function streamed(name: string, type: string, pieces: AsyncGenerator<string>): Response {
  const encoder = new TextEncoder()
  const body = new ReadableStream<Uint8Array>({
    async pull(controller) {
      const { value, done } = await pieces.next()
      if (done) controller.close()
      else controller.enqueue(encoder.encode(value))
    },
  })
  return new Response(body, {
    headers: {
      "content-type": `${type}; charset=utf-8`,
      "content-disposition": `attachment; filename="${name}"`,
      "cache-control": "no-store",
    },
  })
}
