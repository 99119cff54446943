import { numberFormat, once } from '../formats'
import { bad, good, type Result } from '../result'

/** What may stand in a cell of an item: a whole number, or one with decimals. */
export type CellNumber = 'count' | 'decimal'

/** Signs that only ever group digits: spaces (the narrow one of French typography too) and apostrophes. */
const GROUPING = /(?<=\d)[\s\u00A0\u202F'’](?=\d{3}(?!\d))/g

/** The sign between groups of three digits and the one before decimals, as a language writes them. */
const signsIn = once((language, options: Intl.NumberFormatOptions) => {
  const parts = numberFormat(language, options).formatToParts(12_345.6)
  const sign = (type: string) => parts.find(part => part.type === type)?.value
  return { group: sign('group'), decimal: sign('decimal') }
})
const signsOf = (language: string) => signsIn(language, { useGrouping: true })

/**
 * The two numbers that `1,000` or `1.000` can mean: one with decimals, and one in groups of three digits.
 * @returns undefined for a text that has one reading at the most. A group never begins with zero: `0.125` has
 *   one.
 * @example twoReadings('1.250') // [1.25, 1250]
 */
export function twoReadings(text: string): [decimals: number, groups: number] | undefined {
  const found = /^[-+]?([1-9]\d{0,2})[.,](\d{3})$/.exec(text.trim())
  return found ? [Number(`${found[1]}.${found[2]}`), Number(`${found[1]}${found[2]}`)] : undefined
}

/**
 * Reads a number as a person of a language types it; empty text is null. A sign that may be a decimal sign
 * and may group digits is understood where the language and the kind of number leave one reading, and refused
 * where they leave two: a guess would be wrong by a thousand. Errors: `cell-letters`, `cell-two-readings`
 * (with both), `cell-decimals` (a count that is not whole).
 * @param language BCP 47 tag.
 * @example readNumber('12,000', 'count', 'en') // 12000; in French it is refused: 12, or 12,000?
 */
export function readNumber(text: string, number: CellNumber, language: string): Result<number | null> {
  const tidy = text.trim().replace(GROUPING, '')
  if (tidy === '') return good(null)
  const letters = () => bad({ code: 'cell-letters', message: `“${text}” is not a number.`, values: { text } })
  const signs = signsOf(language)
  const sign = /[.,]/.exec(tidy)?.[0]
  const readings = tidy === text.trim() ? twoReadings(tidy) : undefined
  if (readings) {
    const [decimals, groups] = readings
    const negative = tidy.startsWith('-') ? -1 : 1
    if (number === 'count' && sign === signs.group) return good(groups * negative)
    if (number === 'decimal' && sign === signs.decimal) return good(decimals * negative)
    const write = (value: number) => writeNumber(value, language)
    return bad({
      code: 'cell-two-readings',
      message: `“${text}” can mean ${write(decimals)} or ${write(groups)}. Type the one that you mean.`,
      values: { text, one: write(decimals), other: write(groups) },
    })
  }
  // Several signs leave one reading in every language: the first ones group, a last one of the other kind is
  // decimal.
  const grouped = /^([-+]?\d{1,3}(?:,\d{3})+)(?:\.(\d*))?$|^([-+]?\d{1,3}(?:\.\d{3})+)(?:,(\d*))?$/.exec(tidy)
  const several = grouped && (tidy.match(/[.,]/g) ?? []).length > 1
  const plain = several
    ? `${(grouped[1] ?? grouped[3])!.replace(/[.,]/g, '')}.${grouped[2] ?? grouped[4] ?? ''}`
    : tidy.replace(',', '.')
  if (!/^[-+]?(\d+(\.\d*)?|\.\d+)$/.test(plain)) return letters()
  const value = Number(plain)
  // `3,0` on its way to `3,000` is not 3.
  const unfinished = !several && number === 'count' && sign !== undefined && sign === signs.group
  if (number === 'count' && (unfinished || (Number.isFinite(value) && !Number.isInteger(value)))) {
    return bad({ code: 'cell-decimals', message: 'A count is a whole number.' })
  }
  return good(value)
}

/**
 * A number as it stands in a field of a language: with its decimal sign, without groups, so that it is read
 * back.
 */
export const writeNumber = (value: number, language: string): string =>
  numberFormat(language, { useGrouping: false, maximumFractionDigits: 20 }).format(value)
