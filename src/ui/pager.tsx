import { locale } from "@/core/words/locale"
import { Link } from "@/ui/link"
import { Button } from "./button"

/** Where one stands in a long list, and the way to the pages before and after. `page` counts from 0. */
export function Pager({
  page,
  size,
  shown,
  total,
  href,
}: {
  page: number
  size: number
  shown: number
  total: number
  href: (page: number) => string
}) {
  if (total <= size) return null
  const number = (n: number) => n.toLocaleString(locale)
  return (
    <nav aria-label="Pages" className="mt-4 flex items-center justify-between">
      {page > 0 ? (
        <Button asChild>
          <Link href={href(page - 1)}>‹ Before</Link>
        </Button>
      ) : (
        <span />
      )}
      <span className="text-soft tabular-nums">
        {number(page * size + 1)} to {number(page * size + shown)} of {number(total)}
      </span>
      {(page + 1) * size < total ? (
        <Button asChild>
          <Link href={href(page + 1)}>After ›</Link>
        </Button>
      ) : (
        <span />
      )}
    </nav>
  )
}
