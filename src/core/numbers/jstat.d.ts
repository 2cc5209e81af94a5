declare module "jstat" {
  const jstat: {
    readonly beta: {
      /** The value below which a share `p` of the distribution lies. */
      inv(p: number, a: number, b: number): number
      cdf(x: number, a: number, b: number): number
    }
  }
  export default jstat
}
