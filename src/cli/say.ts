// What heron tells the person at the terminal.

const started = Date.now()

export function say(text: string): void {
  console.log(text)
}

/** A line of progress, with the seconds since the beginning. */
export function progress(text: string): void {
  console.log(`  ${((Date.now() - started) / 1000).toFixed(1).padStart(5)} s  ${text}`)
}

/** Ends the command with a message that says what to do. */
export class Stop extends Error {}
