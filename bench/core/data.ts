import { unsafeUniformIntDistribution, xoroshiro128plus } from 'pure-rand'

/** Random whole numbers from a seed, the same in every run. */
export function randomWhole(seed: number): (least: number, most: number) => number {
  const generator = xoroshiro128plus(seed)
  return (least, most) => unsafeUniformIntDistribution(least, most, generator)
}

/** Columns of counts with a share of blanks (NaN). */
export function columns(
  keys: readonly string[],
  size: number,
  blanks: number,
  seed = 1,
): Map<string, Float64Array> {
  const whole = randomWhole(seed)
  return new Map(
    keys.map(key => [
      key,
      Float64Array.from({ length: size }, () => (whole(1, 1000) <= blanks * 1000 ? NaN : whole(0, 60))),
    ]),
  )
}
