import { dateFormat } from '../formats'
import { bad, good, must, type Result } from '../result'
import {
  civilDate,
  dayNumber,
  monthNumber,
  weekday,
  weekNumber,
  weekOfYear,
  weeksInYear,
  yearAndMonth,
} from './conversions'
import { parseDay, printDay } from './day'
import {
  firstDay,
  firstMonthOf,
  firstWeekdayOf,
  lastDay,
  periodAt,
  periodOfDay,
  periodsAYear,
  placeInYear,
  sameCycle,
  type Cycle,
  type Frequency,
  type Period,
} from './period'

/**
 * How each frequency is written: ISO 8601 where it has a form, SDMX (ISO 17369) for quarters and half-years.
 * A week or year that starts elsewhere is written with its first day, see {@link FROM_A_DAY}: a text says by
 * itself which days it means.
 */
const FORMS: [frequency: Frequency, form: RegExp][] = [
  ['day', /^(\d{4})-\d{2}-\d{2}$/],
  ['week', /^(\d{4})-W(\d{2})$/],
  ['month', /^(\d{4})-(\d{2})$/],
  ['quarter', /^(\d{4})-Q(\d)$/],
  ['halfYear', /^(\d{4})-S(\d)$/],
  ['year', /^(\d{4})$/],
]

/**
 * A week that does not begin on Monday, and a year that does not begin in January: the interval of ISO 8601
 * from a day on, with the separator that it allows where a slash cannot stand. `2026-11-01--P7D` is the week
 * from Sunday 1 November, `2026-07-01--P1Y` the year from July. As texts they sort by time, like the others.
 */
const FROM_A_DAY = /^(\d{4}-\d{2}-\d{2})--P(7D|1Y)$/

const EXAMPLES: Record<Frequency, string> = {
  day: '2026-10-05',
  week: '2026-W45',
  month: '2026-10',
  quarter: '2026-Q3',
  halfYear: '2026-S2',
  year: '2026',
}

/** The period of an interval from a day on. */
function parseInterval(text: string, day: string, span: string): Result<Period> {
  const first = parseDay(day)
  if (!first.ok) return first
  const { month } = civilDate(first.value)
  const of: Cycle =
    span === '7D'
      ? { frequency: 'week', firstWeekday: weekday(first.value) }
      : { frequency: 'year', firstMonth: month }
  const period = periodOfDay(of, first.value)
  // A week from Monday and a year from January have one way of writing, which is the other one.
  return printPeriod(period) === text ? good(period) : noForm(text)
}

/** A period of a cycle, as it is written: near the others of {@link EXAMPLES}. */
const exampleOf = (cycle: Cycle): string =>
  printPeriod(periodOfDay(cycle, firstDay(must(parsePeriod(EXAMPLES[cycle.frequency])))))

const noForm = (text: string, cycle?: Cycle) =>
  bad({
    code: 'period-form',
    values: { text },
    message: `“${text}” is no period. Write ${cycle ? exampleOf(cycle) : Object.values(EXAMPLES).join(', ')}.`,
  })

function wrongFrequency(text: string, found: Frequency, cycle: Cycle) {
  const example = exampleOf(cycle)
  return bad({
    code: 'period-frequency',
    values: { text, example },
    message: `“${text}” is a ${found}; a ${cycle.frequency} is written ${example}.`,
  })
}

/**
 * The period that a text names.
 * @param cycle what it must be, and where its weeks or years start, for a text that does not say so itself;
 *   without it those are weeks from Monday and years from January. Errors: `period-form`, `period-frequency`
 *   (a week where a month is wanted), `period-month` (month 13), `period-week` (a week 53 in a year of 52),
 *   `period-part` (a fifth quarter), `day-none`.
 */
export function parsePeriod(text: string, cycle?: Cycle): Result<Period> {
  const interval = FROM_A_DAY.exec(text)
  if (interval) {
    const period = parseInterval(text, interval[1]!, interval[2]!)
    return period.ok && cycle && !sameCycle(period.value, cycle)
      ? wrongFrequency(text, period.value.frequency, cycle)
      : period
  }
  const form = FORMS.find(([, pattern]) => pattern.test(text))
  if (!form) return noForm(text, cycle)
  const [frequency, pattern] = form
  if (cycle && cycle.frequency !== frequency) return wrongFrequency(text, frequency, cycle)
  const of: Cycle = cycle ?? { frequency }
  const [year, part] = pattern.exec(text)!.slice(1).map(Number) as [number, number]
  switch (frequency) {
    case 'day': {
      const day = parseDay(text)
      return day.ok ? good(periodAt(of, day.value)) : day
    }
    case 'week': {
      const weeks = weeksInYear(year, firstWeekdayOf(of))
      if (part < 1 || part > weeks)
        return bad({
          code: 'period-week',
          values: { text, weeks },
          message: `“${text}” is no week: ${year} has ${weeks}.`,
        })
      return good(
        periodAt(of, weekNumber(dayNumber({ year, month: 1, day: 4 }), firstWeekdayOf(of)) + part - 1),
      )
    }
    case 'year':
      return good(periodAt(of, year))
    default: {
      const parts = periodsAYear(of)
      if (part >= 1 && part <= parts)
        return good(periodAt(of, frequency === 'month' ? monthNumber(year, part) : year * parts + part - 1))
      return bad({
        code: frequency === 'month' ? 'period-month' : 'period-part',
        values: { text, parts },
        message: `“${text}” is no ${frequency}: a year has ${parts}.`,
      })
    }
  }
}

const pad = (value: number, width: number) => String(value).padStart(width, '0')

/** The text of a period: the inverse of {@link parsePeriod}. */
export function printPeriod(period: Period): string {
  switch (period.frequency) {
    case 'day':
      return printDay(period.index)
    case 'week': {
      if (firstWeekdayOf(period) !== 1) return `${printDay(firstDay(period))}--P7D`
      const { year, week } = weekOfYear(firstDay(period))
      return `${pad(year, 4)}-W${pad(week, 2)}`
    }
    case 'month': {
      const { year, month } = yearAndMonth(period.index)
      return `${pad(year, 4)}-${pad(month, 2)}`
    }
    case 'year':
      return firstMonthOf(period) === 1 ? pad(period.index, 4) : `${printDay(firstDay(period))}--P1Y`
    default: {
      const letter = period.frequency === 'quarter' ? 'Q' : 'S'
      return `${pad(Math.floor(period.index / periodsAYear(period)), 4)}-${letter}${placeInYear(period)}`
    }
  }
}

type Style = 'long' | 'short'

/** What the numbered periods are called. Months and days have their names from the platform. */
const NUMBERED: Record<string, Record<'week' | 'quarter' | 'halfYear', [long: string, short: string]>> = {
  en: { week: ['week', 'W'], quarter: ['quarter', 'Q'], halfYear: ['half-year', 'H'] },
  fr: { week: ['semaine', 'S'], quarter: ['trimestre', 'T'], halfYear: ['semestre', 'Sem.'] },
}

const atNoon = (day: number) => day * 86_400_000 + 43_200_000

function span(language: string, first: number, last: number, parts: Intl.DateTimeFormatOptions): string {
  // The platform puts thin spaces around its dash; a plain reader of text should find plain ones.
  return dateFormat(language, { ...parts, timeZone: 'UTC' })
    .formatRange(atNoon(first), atNoon(last))
    .replace(/[\u2009\u202f]/g, ' ')
}

/**
 * The name of a period in a person's language: “October 2026”, “week 45 of 2026 (2 – 8 November 2026)”, “July
 * 2026 – June 2027”; short: “Oct 26”, “W45 2026”, “2026/27”.
 */
export function namePeriod(period: Period, language: string, style: Style = 'long'): string {
  const { frequency } = period
  const [first, last] = [firstDay(period), lastDay(period)]
  const long = style === 'long'
  const say = (parts: Intl.DateTimeFormatOptions) =>
    dateFormat(language, { ...parts, timeZone: 'UTC' }).format(atNoon(first))
  if (frequency === 'day')
    return say(
      long
        ? { day: 'numeric', month: 'long', year: 'numeric' }
        : { day: 'numeric', month: 'short', year: '2-digit' },
    )
  if (frequency === 'month') return say({ month: style, year: long ? 'numeric' : '2-digit' })
  if (frequency === 'year') {
    if (firstMonthOf(period) === 1) return String(period.index)
    return long
      ? span(language, first, last, { month: 'long', year: 'numeric' })
      : `${period.index}/${pad((period.index + 1) % 100, 2)}`
  }
  const { year, week } =
    frequency === 'week' ? weekOfYear(first) : { year: civilDate(first).year, week: placeInYear(period) }
  const [word, letter] = (NUMBERED[language.slice(0, 2)] ?? NUMBERED.en!)[frequency]
  if (!long) return `${letter}${week} ${year}`
  const days =
    frequency === 'week'
      ? span(language, first, last, { day: 'numeric', month: 'long', year: 'numeric' })
      : span(language, first, last, { month: 'long', year: 'numeric' })
  return language.startsWith('fr')
    ? `${word} ${week} de ${year} (${days})`
    : `${word} ${week} of ${year} (${days})`
}
