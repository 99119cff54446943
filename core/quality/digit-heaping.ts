/** Numbers under this have no last digit that chance could have filled: 3 patients are 3 patients. */
export const SMALLEST_NUMBER = 10
export const FEWEST_NUMBERS = 50

/** The 0.99 quantile of chi-square with 9 degrees of freedom: NIST/SEMATECH e-Handbook, table 1.3.6.7.4 (from memory). */
export const CRITICAL_CHI_SQUARE = 21.666

/** How the last digits of somebody's numbers are spread. */
export interface DigitHeaping {
  /** How many numbers end with each digit, from 0 to 9. */
  digits: number[]
  numbers: number
  /** Sum of (observed − expected)² / expected against ten equal shares; NaN for too few numbers. */
  chiSquare: number
  /** The share of numbers that end with 0 or 5: a fifth by chance. */
  roundShare: number
  /** More uneven than chance gives once in a hundred: numbers were rounded or made up. */
  heaped: boolean
}

/** Tests the last digits of counts for heaping on some of them (Pearson’s chi-square test against equal shares). */
export function digitHeaping(counts: Iterable<number>): DigitHeaping {
  const digits = Array<number>(10).fill(0)
  for (const count of counts) {
    if (count >= SMALLEST_NUMBER) digits[count % 10]!++
  }
  const numbers = digits.reduce((sum, count) => sum + count, 0)
  const expected = numbers / 10
  const chiSquare = numbers < FEWEST_NUMBERS ? NaN : digits.reduce((sum, count) => sum + (count - expected) ** 2 / expected, 0)
  return { digits, numbers, chiSquare, roundShare: numbers ? (digits[0]! + digits[5]!) / numbers : NaN, heaped: chiSquare > CRITICAL_CHI_SQUARE }
}
