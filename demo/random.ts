import { xoroshiro128plus, unsafeUniformIntDistribution } from 'pure-rand'

/** Random figures from a fixed seed: two runs give the same bytes. */
export interface Random {
  /** Between 0 and 1, without 1. */
  share(): number
  /** A whole number from `low` to `high`, both in. */
  whole(low: number, high: number): number
  normal(): number
  poisson(mean: number): number
  /** A count around a mean that scatters more than Poisson: variance mean + mean² / size. */
  negativeBinomial(mean: number, size: number): number
  /** How many of `count` when each has this chance. */
  binomial(count: number, chance: number): number
}

export function randomFrom(seed: number): Random {
  const generator = xoroshiro128plus(seed)
  const whole = (low: number, high: number) => unsafeUniformIntDistribution(low, high, generator)
  const share = () => whole(0, 0x3fffffff) / 0x40000000
  // Box and Muller: two uniform shares give a normal one.
  const normal = () => Math.sqrt(-2 * Math.log(1 - share())) * Math.cos(2 * Math.PI * share())

  const poisson = (mean: number): number => {
    if (mean > 60) return Math.max(0, Math.round(mean + normal() * Math.sqrt(mean)))
    let count = 0
    for (let product = share(); product > Math.exp(-mean); product *= share()) count++
    return count
  }

  // Marsaglia and Tsang, for shapes of 1 and over.
  const gamma = (shape: number): number => {
    const d = shape - 1 / 3
    const c = 1 / Math.sqrt(9 * d)
    for (;;) {
      const x = normal()
      const v = (1 + c * x) ** 3
      if (v > 0 && Math.log(1 - share()) < 0.5 * x * x + d - d * v + d * Math.log(v)) return d * v
    }
  }

  const binomial = (count: number, chance: number): number => {
    let hits = 0
    for (let trial = 0; trial < count; trial++) if (share() < chance) hits++
    return hits
  }

  return {
    share,
    whole,
    normal,
    poisson,
    binomial,
    negativeBinomial: (mean, size) => poisson((mean * gamma(size)) / size),
  }
}
