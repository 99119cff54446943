/** What may have happened to a number between the register and the form. */
export type Slip = 'swapped' | 'doubled' | 'extraZero' | 'missingZero'

export interface LikelySlip {
  slip: Slip
  /** What was meant, if this is what happened. */
  meant: number
}

/**
 * The slips of the hand that would turn a value inside the expected range into the one that was typed: two
 * neighbouring digits swapped (72 for 27), a digit typed twice (227 for 27), a zero too many or too few. Nearest
 * to the middle of the range first; none when the value is within it. A digit left out is not among them: it could
 * be nearly any number.
 * @param range whole numbers, both in.
 */
export function likelySlips(typed: number, range: { low: number; high: number }): LikelySlip[] {
  if (!Number.isInteger(typed) || typed < 0 || (typed >= range.low && typed <= range.high)) return []
  const digits = String(typed)
  const found = new Map<number, Slip>()
  const offer = (slip: Slip, text: string) => {
    const meant = Number(text)
    const sensible =
      text !== '' && (text === '0' || !text.startsWith('0')) && meant >= range.low && meant <= range.high
    if (sensible && !found.has(meant)) found.set(meant, slip)
  }
  for (let at = 0; at < digits.length - 1; at++) {
    offer('swapped', digits.slice(0, at) + digits[at + 1] + digits[at] + digits.slice(at + 2))
    if (digits[at] === digits[at + 1])
      offer(digits[at] === '0' ? 'extraZero' : 'doubled', digits.slice(0, at) + digits.slice(at + 1))
  }
  if (digits.endsWith('0')) offer('extraZero', digits.slice(0, -1))
  offer('missingZero', `${digits}0`)
  const middle = (range.low + range.high) / 2
  const order: Slip[] = ['swapped', 'doubled', 'extraZero', 'missingZero']
  return [...found]
    .map(([meant, slip]) => ({ slip, meant }))
    .sort(
      (one, other) =>
        order.indexOf(one.slip) - order.indexOf(other.slip) ||
        Math.abs(one.meant - middle) - Math.abs(other.meant - middle),
    )
}
