declare module "wilson-score-interval" {
  export default function wilson(hits: number, of: number): { left: number; right: number; center: number }
}
