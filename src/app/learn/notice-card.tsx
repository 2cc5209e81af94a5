/** A notice as learners see it; `href` null: its button leads nowhere, in a preview. */
export function NoticeCard({
  title,
  body,
  button,
  href,
}: {
  title: string
  body: string
  button: string
  href: string | null
}) {
  const look =
    "mt-3 inline-flex min-h-11 items-center rounded-md border border-reed px-4 font-semibold text-reed [overflow-wrap:anywhere]"
  return (
    <div className="rounded-lg bg-reed-wash p-4">
      <p className="text-lead font-semibold [overflow-wrap:anywhere]">{title}</p>
      {body ? <p className="mt-1 whitespace-pre-line [overflow-wrap:anywhere]">{body}</p> : null}
      {button && href ? (
        <a href={href} className={look}>
          {button}
        </a>
      ) : button ? (
        <span className={look}>{button}</span>
      ) : null}
    </div>
  )
}
