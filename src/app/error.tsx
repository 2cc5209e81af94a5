"use client"

// Whatever went wrong: nothing is lost, and it can be tried again.
export default function ErrorPage({ reset }: { error: Error; reset: () => void }) {
  return (
    <main className="mx-auto max-w-xl p-8">
      <h1>Back in a moment</h1>
      <p className="mt-3">Something didn't answer just now. What was saved is safe.</p>
      <button type="button" onClick={reset} className="mt-5 rounded-md bg-slate px-4 py-2 font-semibold text-on-slate">
        Try again
      </button>
    </main>
  )
}
