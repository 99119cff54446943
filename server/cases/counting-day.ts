import { parseDay, printDay } from '#core/calendar/day'
import { must } from '#core/result'

/**
 * For queries: the condition that a day, as a text, may lie between two others. Of one that is known in part
 * (`2026`, `2026-10`) core says where it counts: it is among those of its year.
 * @param value what is the day; @param from and @param to the parameters with the two days
 */
export const mayLieBetween = (value: string, from: string, to: string): string =>
  `(${value} COLLATE "C" BETWEEN ${from} AND ${to}
     OR length(${value}) < 10 AND left(${value}, 4) BETWEEN left(${from}, 4) AND left(${to}, 4))`

/**
 * All texts of days that may lie between two others, as `mayLieBetween` finds them: each day, and what is known in
 * part of its years.
 * @example daysThatMayLieBetween('2026-10-30', '2026-10-31') // ['2026', '2026-01', …, '2026-10-30', '2026-10-31']
 */
export function daysThatMayLieBetween(from: string, to: string): string[] {
  const found: string[] = []
  for (let year = Number(from.slice(0, 4)); year <= Number(to.slice(0, 4)); year++) {
    found.push(`${year}`)
    for (let month = 1; month <= 12; month++) found.push(`${year}-${String(month).padStart(2, '0')}`)
  }
  for (let day = must(parseDay(from)); day <= must(parseDay(to)); day++) found.push(printDay(day))
  return found
}
