import { bad, good, type Result } from '../result'

/** What people put between the digits of a telephone number. */
const BETWEEN = /[\s().\-/\u00a0\u2011]/g

/**
 * Reads a telephone number in the international form of ITU-T E.164 (2010): a plus sign, then at most fifteen
 * digits that begin with the code of the country. Numbers of fewer than eight digits are not in use between
 * countries (common practice).
 *
 * @returns the number without what stood between its digits
 * @example parsePhone('+999 41 (20) 30-17') // good: '+99941203017'
 * @example parsePhone('041 2030') // bad, `phone-country`: which country?
 */
export function parsePhone(text: string): Result<string> {
  const digits = text.replace(BETWEEN, '').replace(/^00/, '+')
  if (/^\+[1-9]\d{7,14}$/.test(digits)) return good(digits)
  if (/^\d+$/.test(digits))
    return bad({ code: 'phone-country', message: 'The number has no code of a country: begin with +.' })
  return bad({ code: 'phone', message: `“${text}” is not a telephone number.`, values: { text } })
}
