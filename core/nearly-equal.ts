/** Two decimals this close, beside the larger of them, are one number that was computed in two ways. */
const RELATIVE = 1e-9
/**
 * Beside zero nothing is relative: `opening + received - used` of an emptied shelf is some 1e-9 and means 0,
 * because the largest number of a cell (1e7) has its last binary digit there.
 */
const SMALLEST_SCALE = 10
/**
 * Do two numbers say the same? Decimals within a relative 1e-9 (absolute 1e-8 near zero), whole numbers only
 * when they are equal; with NaN nothing is.
 * @example nearlyEqual(0.3 + 0.6, 0.9) // true, though 0.3 + 0.6 === 0.8999999999999999
 */
export function nearlyEqual(one: number, other: number): boolean {
  // Short enough to be put into the inner loops by the compiler: nearly all pairs are whole numbers apart.
  return (
    one === other || (Math.abs(one - other) <= 1e-8 + 1e-8 * Math.abs(one) && nearlyEqualClose(one, other))
  )
}

/** The exact question, for pairs that came through the wider and cheaper one before it. */
function nearlyEqualClose(one: number, other: number): boolean {
  const scale = Math.max(SMALLEST_SCALE, Math.abs(one), Math.abs(other))
  return Math.abs(one - other) <= RELATIVE * scale && !(Number.isInteger(one) && Number.isInteger(other))
}

/** The distance of two numbers without the noise of binary fractions: 0.9 − 0.6 is 0.3. Not negative. */
export function distanceBetween(one: number, other: number): number {
  if (nearlyEqual(one, other)) return 0
  return withoutNoise(Math.abs(one - other), Math.max(Math.abs(one), Math.abs(other)))
}

/**
 * A computed number as people would write it: twelve digits of the largest number that it was computed from.
 */
export function withoutNoise(value: number, largest = Math.abs(value)): number {
  if (!Number.isFinite(value) || Number.isInteger(value)) return value
  const digits = Math.min(15, Math.max(0, 11 - Math.floor(Math.log10(largest || 1))))
  return Number(value.toFixed(digits))
}

/** The largest whole number that is not above, where 2.9999999999 is 3. */
export const floorNear = (value: number): number => {
  const whole = Math.round(value)
  return nearlyEqual(value, whole) ? whole : Math.floor(value)
}

/** The smallest whole number that is not below, where 3.0000000001 is 3. */
export const ceilNear = (value: number): number => -floorNear(-value) + 0
