import { parseDay } from '../calendar/day'
import { bad, good, type Result } from '../result'

/**
 * What may travel between a device and the district: the one definition of text, identifier, instant and day,
 * for both sides of the wire. Something else is refused where it is typed, and again where it arrives.
 */

/** An identifier (RFC 9562) in lower case, without `urn:uuid:`. */
export const UUID_PATTERN = '^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$'

/** Years of which this installation can speak: PostgreSQL and JavaScript agree on all their days. */
const FIRST_YEAR = 1800
const LAST_YEAR = 2199
const INSTANT = /^(\d{4}-\d{2}-\d{2})T(\d{2}):(\d{2}):(\d{2})(\.\d{1,9})?(Z|[+-]\d{2}:\d{2})$/

/** How long a sentence that somebody writes may be, and a reason: fields end there, and so do the schemas. */
export const LONGEST_SENTENCE = 2000
export const LONGEST_REASON = 500

/** The largest number that a column of counters holds. */
export const LARGEST_INTEGER = 2 ** 31 - 1
/** How many values one change or body may hold: more than any form or dataset has. */
const MOST_VALUES = { change: 20_000, body: 400_000 }
/** How deeply lists and objects may lie in one another. */
const DEEPEST = 40

/**
 * Is this a day that can be stored?
 *
 * @example isDay('2026-02-30') // false: there is no such day
 * @example isDay('9999-01-01') // false: outside the years 1800 to 2199
 */
export function isDay(text: string): boolean {
  const year = Number(text.slice(0, 4))
  return parseDay(text).ok && year >= FIRST_YEAR && year <= LAST_YEAR
}

/**
 * Is this an instant (RFC 3339) that can be stored? Leap seconds cannot: JavaScript has none.
 *
 * @example isInstant('2026-11-09T08:45:00-02:00') // true
 * @example isInstant('2026-12-31T23:59:60Z') // false
 */
export function isInstant(text: string): boolean {
  const found = INSTANT.exec(text)
  if (!found || !isDay(found[1]!)) return false
  const [hour, minute, second] = [found[2], found[3], found[4]].map(Number) as [number, number, number]
  return hour < 24 && minute < 60 && second < 60 && Number.isFinite(Date.parse(text))
}

/**
 * A pattern for a text that shows something: not only spaces, marks, control characters, and letters without
 * width.
 */
export const VISIBLE = '[^\\s\\p{C}\\p{Z}\\p{M}\\u2800\\u3164\\u115F\\u1160\\uFFA0]'

const visible = new RegExp(VISIBLE, 'u')
/** Does a text show something? */
export const isVisible = (text: string): boolean => visible.test(text)

const languages = new Intl.DisplayNames(['en'], { type: 'language', fallback: 'none' })

/**
 * Is this the code of a language (ISO 639-1)?
 *
 * @example isLanguage('fr') // true
 * @example isLanguage('xx') // false
 */
export function isLanguage(code: string): boolean {
  return /^[a-z]{2}$/.test(code) && languages.of(code) !== undefined
}

/** Half of a character of two halves, or the character 0: no database stores them. */
const UNSTORABLE = /\0|[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/
const ALL_UNSTORABLE = new RegExp(UNSTORABLE, 'g')

/** Most texts have only letters that are storable and composed in every form: no more is looked at. */
const PLAIN = /^[\x01-\x7F]*$/

/** Is this a text that can be stored? */
export const isText = (text: string): boolean => PLAIN.test(text) || !UNSTORABLE.test(text)

const composed = (text: string): string => (PLAIN.test(text) ? text : text.normalize('NFC'))

/**
 * A text as a device stores it: in the composed form (Unicode NFC), so that an accent typed in two ways is
 * one accent, and without what cannot be stored.
 */
export const cleanText = (typed: string): string => typed.replace(ALL_UNSTORABLE, '').normalize('NFC')

/** A value with {@link cleanText} done to every text in it: before it is stored on a device. */
export function cleanJson<T>(value: T): T {
  if (typeof value === 'string') return cleanText(value) as T
  if (Array.isArray(value)) return value.map(part => cleanJson<unknown>(part)) as T
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(
    Object.entries(value).map(([key, part]) => [cleanText(key), cleanJson<unknown>(part)]),
  ) as T
}

/**
 * A value of JSON with all its texts in the composed form (Unicode NFC).
 *
 * Errors: `text-unstorable` (the character 0, or half of a character), `too-deep` (over 40 levels),
 * `too-many-values`; the place says where.
 *
 * @example normalizeJson({ name: 'e\u0301' }) // { ok: true, value: { name: 'é' } }
 */
export function normalizeJson(
  value: unknown,
  at = '',
  what: keyof typeof MOST_VALUES = 'change',
): Result<unknown> {
  return normalized(value, at ? { above: null, key: at } : null, 0, { left: MOST_VALUES[what] })
}

/** The place of a part, as a chain that becomes a text only when something is wrong there. */
interface Place {
  above: Place | null
  key: string
}
const textOf = (place: Place | null): string =>
  place === null ? '' : [textOf(place.above), place.key].filter(Boolean).join('/')

function problemAt(place: Place | null, code: string, message: string): Result<never> {
  const at = textOf(place)
  return bad({ code, message: `${message} (at ${at || 'the top'})`, at })
}
const unstorable = (place: Place | null) =>
  problemAt(place, 'text-unstorable', 'This text has a character that cannot be stored.')

/** Copies nothing that stays as it is: most of what arrives does. */
function normalized(
  value: unknown,
  place: Place | null,
  depth: number,
  budget: { left: number },
): Result<unknown> {
  if (--budget.left < 0)
    return problemAt(place, 'too-many-values', 'This holds more values than any form has.')
  if (typeof value === 'string') return isText(value) ? good(composed(value)) : unstorable(place)
  if (typeof value !== 'object' || value === null) return good(value)
  if (depth > DEEPEST) return problemAt(place, 'too-deep', 'This lies too deep.')
  const parts: [key: string, part: unknown][] = []
  let isChanged = false
  for (const key of Object.keys(value)) {
    if (!isText(key)) return unstorable(place)
    const part = (value as Record<string, unknown>)[key]
    const found = normalized(part, { above: place, key }, depth + 1, budget)
    if (!found.ok) return found
    const name = composed(key)
    isChanged ||= found.value !== part || name !== key
    parts.push([name, found.value])
  }
  if (!isChanged) return good(value)
  return good(Array.isArray(value) ? parts.map(([, part]) => part) : Object.fromEntries(parts))
}
