/** Numbers under this have no last digit that chance could have filled: 3 patients are 3 patients. */
export const SMALLEST_NUMBER = 10
export const FEWEST_NUMBERS = 50

/**
 * Numbers that all lie in a few tens have uneven last digits without any fault: 10 to 17 has no 8 and no 9.
 * Nine tenths of them must lie over at least so wide a range before the test speaks.
 */
export const SMALLEST_SPREAD = 50

/**
 * The 0.99 quantile of chi-square with 9 degrees of freedom: NIST/SEMATECH e-Handbook, table 1.3.6.7.4 (from
 * memory).
 */
export const CRITICAL_CHI_SQUARE = 21.666

/** How the last digits of somebody's numbers are spread. */
export interface DigitHeaping {
  /** How many numbers end with each digit, from 0 to 9. */
  digits: number[]
  numbers: number
  /** The distance from the 5th to the 95th percentile of the numbers. */
  spread: number
  /**
   * Sum of (observed − expected)² / expected against ten equal shares; NaN for too few numbers, or too close
   * ones.
   */
  chiSquare: number
  /** The share of numbers that end with 0 or 5: a fifth by chance. */
  roundShare: number
  /** More uneven than chance gives once in a hundred: numbers were rounded or made up. */
  heaped: boolean
}

/**
 * Tests the last digits of counts for heaping on some of them (Pearson’s chi-square test against equal
 * shares). Where a range of w numbers ends in the middle of a ten, honest digits are uneven by up to 25 n /
 * w² of chi-square (r of the ten digits once more than the others: n r (10 − r) / w²); as much is allowed
 * for.
 */
export function digitHeaping(counts: Iterable<number>): DigitHeaping {
  const large = [...counts].filter(count => count >= SMALLEST_NUMBER).sort((one, other) => one - other)
  const digits = Array<number>(10).fill(0)
  for (const count of large) digits[count % 10]!++
  const numbers = large.length
  const at = (share: number) => large[Math.min(numbers - 1, Math.floor(share * numbers))] ?? NaN
  const spread = at(0.95) - at(0.05)
  const expected = numbers / 10
  const speaks = numbers >= FEWEST_NUMBERS && spread >= SMALLEST_SPREAD
  const chiSquare = speaks ? digits.reduce((sum, count) => sum + (count - expected) ** 2 / expected, 0) : NaN
  const uneven = (25 * numbers) / spread ** 2
  return {
    digits,
    numbers,
    spread,
    chiSquare,
    roundShare: numbers ? (digits[0]! + digits[5]!) / numbers : NaN,
    heaped: chiSquare - uneven > CRITICAL_CHI_SQUARE,
  }
}
