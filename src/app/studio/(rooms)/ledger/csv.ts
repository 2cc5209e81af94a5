// A file of rows as the browser keeps it, made piece by piece.

export function csvResponse(name: string, pieces: AsyncGenerator<string>): Response {
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
      "content-type": "text/csv; charset=utf-8; header=present",
      "content-disposition": `attachment; filename="${name}.csv"`,
      "cache-control": "no-store",
    },
  })
}
