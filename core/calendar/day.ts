import { bad, good, type Result } from '../result'
import { civilDate, dayNumber, daysInMonth } from './conversions'

/** A day as ISO 8601 writes it: `2026-10-05`. */
export type DayText = string

const pad = (value: number, width: number) => String(value).padStart(width, '0')

/** A day number as ISO 8601 text. */
export function printDay(day: number): DayText {
  const date = civilDate(day)
  return `${pad(date.year, 4)}-${pad(date.month, 2)}-${pad(date.day, 2)}`
}

/**
 * The day number of an ISO 8601 day. Errors: `day-form` (not YYYY-MM-DD), `day-none` (no such day, as
 * 2026-02-30).
 */
export function parseDay(text: string): Result<number> {
  const found = /^(\d{4})-(\d{2})-(\d{2})$/.exec(text)
  if (!found) return bad({ code: 'day-form', message: `“${text}” is not a day written as 2026-10-05.` })
  const [year, month, day] = found.slice(1).map(Number) as [number, number, number]
  if (month < 1 || month > 12 || day < 1 || day > daysInMonth(year, month)) {
    return bad({ code: 'day-none', message: `There is no day ${text}.` })
  }
  return good(dayNumber({ year, month, day }))
}
