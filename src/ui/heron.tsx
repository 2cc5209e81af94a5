/** The bird: a bent neck, a long bill, a still leg. */
export function Heron() {
  return (
    <svg
      viewBox="0 0 24 24"
      width="20"
      height="20"
      fill="none"
      stroke="#d97b16"
      strokeWidth="2"
      strokeLinecap="round"
      strokeLinejoin="round"
      aria-hidden="true"
    >
      <path d="M2 6.5 9 5.5c3 .2 3 3.4.8 5-2.4 1.800-1.600 4.500 1.200 5.200l7.500 1.300" />
      <path d="M13 16v6" />
    </svg>
  )
}
