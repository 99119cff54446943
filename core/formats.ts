/** Making a formatter of `Intl` costs far more than using it, so that each is made once; so is what is read from it. */
export function once<Format, Options>(
  make: (language: string, options: Options) => Format,
): (language: string, options: Options) => Format {
  const made = new Map<string, Format>()
  return (language, options) => {
    const key = `${language} ${JSON.stringify(options)}`
    let format = made.get(key)
    if (!format) made.set(key, (format = make(language, options)))
    return format
  }
}

/**
 * How numbers are written in a language (a BCP 47 tag). @throws RangeError for options that the platform does
 * not know.
 */
export const numberFormat = once(
  (language, options: Intl.NumberFormatOptions) => new Intl.NumberFormat(language, options),
)
/** “Name: value”, with the space that French puts before a colon. */
export const labelled = (name: string, value: string, language: string): string =>
  `${name}${language.startsWith('fr') ? '\u00a0' : ''}: ${value}`

/**
 * How days and times are written in a language (a BCP 47 tag). @throws RangeError for a time zone that the
 * platform does not know.
 */
export const dateFormat = once(
  (language, options: Intl.DateTimeFormatOptions) => new Intl.DateTimeFormat(language, options),
)

const IN_WORDS = { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' } as const
/**
 * A day of the calendar in words: “1 Jul 2026”. Each is made once: thousands of cases share some hundred days.
 * @param at its start in milliseconds since 1970 UTC
 */
export const dayInWords = once((language, at: number) => dateFormat(language, IN_WORDS).format(at))
