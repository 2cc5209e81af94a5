// What is answered while too much is being drawn.
import { words } from "@/core/words/en"
import { TooBusy } from "@/server/draw/draw"

/** What it comes to, or "busy". */
export async function unlessBusy<T>(drawn: Promise<T>): Promise<T | "busy"> {
  return drawn.catch((error) => {
    if (error instanceof TooBusy) return "busy" as const
    throw error
  })
}

export const comeAgain = () => new Response(words.down.text, { status: 503, headers: { "retry-after": "5" } })
