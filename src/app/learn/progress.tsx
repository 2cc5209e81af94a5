export function Progress({ done, of }: { done: number; of: number }) {
  return (
    <div className="mt-3">
      <p className="text-body text-soft">
        {done} of {of} lessons done
      </p>
      <div className="mt-1 h-2 overflow-hidden rounded-full bg-line" aria-hidden="true">
        <div className="h-full bg-reed" style={{ width: `${of ? (100 * done) / of : 0}%` }} />
      </div>
    </div>
  )
}
