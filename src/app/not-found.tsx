import { Link } from "@/ui/link"

export default function NotFound() {
  return (
    <main className="mx-auto max-w-xl p-8">
      <h1>There is nothing at this address</h1>
      <p className="mt-3">It may have been removed, or the link was cut off.</p>
      <p className="mt-5">
        <Link className="text-slate underline" href="/studio">
          To the studio
        </Link>
      </p>
    </main>
  )
}
