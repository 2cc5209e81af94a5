import type { AskedDays } from "./query"

/** From one day to another, in a form that narrows a list down. */
export function Days({ asked, what }: { asked: AskedDays; what: string }) {
  return (["from", "to"] as const).map((name) => (
    <label key={name} className="flex items-center gap-1.5 whitespace-nowrap">
      {name === "from" ? "From" : "until"}
      <input
        type="date"
        name={name}
        aria-label={name === "from" ? `From: ${what} on or after` : `Until: ${what} on or before`}
        defaultValue={asked[name] ?? ""}
        className="w-36 rounded-md border border-line bg-card px-2 py-1.5"
      />
    </label>
  ))
}
