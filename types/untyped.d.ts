/** Reference libraries of the tests that come without types: only what the tests call. */
declare module 'jstat' {
  export const jStat: {
    poisson: { cdf(count: number, mean: number): number }
    chisquare: { inv(share: number, degrees: number): number }
  }
}
