import { dayAt } from '#core/calendar/deadline'
import { namePeriod, parsePeriod } from '#core/calendar/period-text'
import { dateFormat, dayInWords, labelled, numberFormat } from '#core/formats'
import { fold } from '#core/form/code'
import { wordsIn, type Words } from '#core/report/edition'
import { writeNumber } from '#core/report/read-number'
import { clockNow, todayIn } from './useClock'

/** Days in a text. */
const DAYS = /\b\d{4}-\d{2}-\d{2}\b/g

/** What is not zero is never shown as 0: a very small number keeps its first two digits. */
const digitsFor = (value: number, digits: number): Intl.NumberFormatOptions =>
  value !== 0 && digits > 0 && Math.abs(value) < 0.5 / 10 ** digits
    ? { maximumSignificantDigits: 2 }
    : { maximumFractionDigits: digits }

/**
 * Everything that puts data into a person's words: names, numbers, days and times, in their language and time
 * zone.
 */
export function useWords() {
  const { t, te, locale } = useI18n()
  const session = useSession()
  const timeZone = computed(() => session.view?.timeZone ?? 'UTC')
  const language = computed(() => (locale.value === 'en' ? 'en-GB' : locale.value))

  const say = (words: Words) => wordsIn(words, locale.value)

  const number = (value: number | null | undefined, digits = 3) =>
    value === null || value === undefined
      ? '–'
      : numberFormat(language.value, digitsFor(value, digits)).format(value)

  /** A number as it stands in a field that is typed into: what `readNumber` reads back. */
  const typed = (value: number) => writeNumber(value, locale.value)

  /** “Name: value”, as the language sets its colon. */
  const pair = (name: string, value: string) => labelled(name, value, locale.value)

  /**
   * A word that somebody typed once for all languages, as *doses* or *health post*: in the reader's, where it
   * is a usual one.
   */
  function usual(word: string): string {
    const key = `usual.${fold(word).trim().replace(/\s+/g, '_')}`
    return word && te(key) ? t(key) : word
  }

  /** A value of any type: numbers and days in the person's way, yes or no, texts as they are. */
  const value = (of: number | string | boolean | null | undefined, digits = 3) =>
    typeof of === 'boolean'
      ? t(of ? 'answer.yes' : 'answer.no')
      : typeof of === 'string'
        ? of.replace(DAYS, day => plainDay(day))
        : number(of, digits)

  const percent = (share: number | null, digits = 0) =>
    share === null
      ? '–'
      : numberFormat(language.value, { style: 'percent', maximumFractionDigits: digits }).format(share)

  /** “7 Nov”, with the year when it is another than this one's. */
  function day(instant: string | number): string {
    const at = new Date(instant)
    const year = (of: Date) => dateFormat('en', { year: 'numeric', timeZone: timeZone.value }).format(of)
    const other = year(at) !== year(new Date(clockNow()))
    return dateFormat(language.value, {
      day: 'numeric',
      month: 'short',
      ...(other && { year: 'numeric' }),
      timeZone: timeZone.value,
    }).format(at)
  }

  /**
   * A day of the calendar, written `2026-07-01`, that is no instant and has no time zone: “1 Jul 2026”.
   * `shift` moves it by days.
   */
  const plainDay = (text: string, shift = 0) =>
    dayInWords(language.value, Date.parse(text) + shift * 86_400_000)

  /**
   * A day of which perhaps only the year, or year and month, are known: “1 Jul 2026”, “July 2026”, “2026”.
   */
  const partialDay = (text: string): string =>
    text.length === 10 ? plainDay(text) : text.length === 7 ? period(text) : text

  /** A place by its degrees (WGS 84), and how sure it is. */
  const position = ({
    latitude,
    longitude,
    accuracy,
  }: {
    latitude: number
    longitude: number
    accuracy?: number
  }): string =>
    `${number(latitude, 5)}, ${number(longitude, 5)}${accuracy === undefined ? '' : ` ± ${number(accuracy)} m`}`

  const time = (instant: string | number) =>
    dateFormat(language.value, { hour: '2-digit', minute: '2-digit', timeZone: timeZone.value }).format(
      new Date(instant),
    )

  /** “today 08:41”, “yesterday”, “7 Nov 09:14”. */
  function moment(instant: string | number): string {
    const at = new Date(instant).getTime()
    const ago = today() - dayAt(at, timeZone.value)
    if (ago === 0) return t('time.today', { time: time(at) })
    if (ago === 1) return t('time.yesterday', { time: time(at) })
    return `${day(at)} ${time(at)}`
  }

  /** The last day on which a report is on time: the deadline is the end of that day. */
  const dueDay = (dueAt: string) => day(Date.parse(dueAt) - 1)

  /** The day number of today, where the installation is. */
  const today = () => todayIn(timeZone.value)

  /** Whole days from a deadline's day until now; negative before it. */
  const daysSince = (dueAt: string) => today() - dayAt(Date.parse(dueAt) - 1, timeZone.value)

  function period(text: string, style: 'long' | 'short' = 'long'): string {
    const parsed = parsePeriod(text)
    return parsed.ok ? namePeriod(parsed.value, language.value, style) : text
  }

  /**
   * A span of time in its largest whole unit: “35 minutes”, “3 hours”, “16 days”. @param minutes not
   * negative.
   */
  function span(minutes: number): string {
    const [unit, size] =
      minutes < 120
        ? (['minute', 1] as const)
        : minutes < 48 * 60
          ? (['hour', 60] as const)
          : (['day', 24 * 60] as const)
    return numberFormat(language.value, {
      style: 'unit',
      unit,
      unitDisplay: 'long',
      maximumFractionDigits: 0,
    }).format(minutes / size)
  }

  /** “14 days”. */
  const days = (count: number) =>
    numberFormat(language.value, { style: 'unit', unit: 'day', unitDisplay: 'long' }).format(count)

  /** The size of a file: “12 kB”, “3.4 MB” (IEC 80000-13: a kilobyte is 1,000 bytes). */
  const bytes = (count: number) => {
    const unit = count < 1_000_000 ? 'kilobyte' : 'megabyte'
    const size = count / (count < 1_000_000 ? 1_000 : 1_000_000)
    return numberFormat(language.value, { style: 'unit', unit, maximumSignificantDigits: 3 }).format(size)
  }

  /** The sentence of a problem's code; the English message where the locale has none. */
  function problem(of: {
    code: string
    message: string
    values?: Record<string, unknown>
    problems?: readonly { values?: Record<string, unknown> }[]
  }): string {
    const key = `problem.${of.code}`
    return te(key) || te(key, 'en') ? t(key, { ...of.problems?.[0]?.values, ...of.values }) : of.message
  }

  return {
    t,
    say,
    pair,
    usual,
    number,
    typed,
    value,
    percent,
    day,
    plainDay,
    partialDay,
    position,
    time,
    moment,
    dueDay,
    today,
    daysSince,
    bytes,
    period,
    span,
    days,
    problem,
    locale,
  }
}
