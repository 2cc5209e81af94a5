import type { Proportion } from "@/core/proportion"

/** A share as a dot, with the 95 % Wilson interval around it. */
export function Interval({ share }: { share: Proportion }) {
  const p = share.hits / share.of
  const step = [0.01, 0.02, 0.05, 0.1, 0.2].find((x) => (share.high - share.low) * 2.2 <= 4 * x) ?? 0.25
  const low = Math.max(0, Math.floor((share.low - (share.high - share.low) * 0.3) / step) * step)
  const high = Math.min(1, Math.ceil((share.high + (share.high - share.low) * 0.3) / step) * step)
  const x = (v: number) => 18 + ((v - low) / (high - low)) * 284
  const ticks = Array.from({ length: Math.round((high - low) / step) + 1 }, (_, i) => low + i * step)
  const percent = (v: number) => `${(100 * v).toFixed(1)} %`
  return (
    <figure className="mt-2">
      <svg
        viewBox="0 0 320 62"
        className="w-full max-w-md"
        role="img"
        aria-label={`${percent(p)}, between ${percent(share.low)} and ${percent(share.high)} with 95 % certainty`}
      >
        {ticks.map((t) => (
          <g key={t}>
            <path d={`M${x(t)} 4V42`} stroke="var(--line)" />
            <text x={x(t)} y="57" textAnchor="middle" fontSize="11" fill="var(--soft)">
              {Math.round(t * 100)} %
            </text>
          </g>
        ))}
        <rect
          x={x(share.low)}
          y="19"
          width={Math.max(2, x(share.high) - x(share.low))}
          height="8"
          fill="var(--slate)"
          fillOpacity=".3"
        />
        <circle cx={x(p)} cy="23" r="5.5" fill="var(--slate)" />
      </svg>
      <figcaption className="text-note text-soft">
        95 % sure: between {percent(share.low)} and {percent(share.high)}
      </figcaption>
    </figure>
  )
}
