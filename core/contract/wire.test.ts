import fc from 'fast-check'
import { DateTime } from 'luxon'
import { describe, expect, it } from 'vitest'
import { cleanText, isDay, isInstant, isLanguage, isText, isVisible, normalizeJson } from './wire'

describe('nothing lost, 5: what may travel', () => {
  it('is an instant of RFC 3339 that PostgreSQL and JavaScript store alike', () => {
    // RFC 3339, section 5.8, gives the first four as examples; its leap second is refused here, and why is
    // said.
    expect(
      [
        '1985-04-12T23:20:50.52Z',
        '1996-12-19T16:39:57-08:00',
        '1937-01-01T12:00:27.87+00:20',
        '1990-12-31T23:59:60Z',
      ].map(isInstant),
    ).toEqual([true, true, true, false])
    expect(
      [
        '0000-01-01T00:00:00Z',
        '9999-12-31T23:59:59Z',
        '2026-02-30T00:00:00Z',
        '2026-10-05',
        '2026-10-05T24:00:00Z',
        'NaN',
        '',
      ].some(isInstant),
    ).toBe(false)
  })

  it('agrees with luxon about 5,000 instants', () => {
    const years = { min: new Date('1801-01-01'), max: new Date('2198-12-31'), noInvalidDate: true }
    fc.assert(
      fc.property(
        fc.date(years),
        date => isInstant(date.toISOString()) && DateTime.fromISO(date.toISOString()).isValid,
      ),
      { numRuns: 5000 },
    )
  })

  it('is a day of the calendar', () => {
    expect(
      ['2026-10-05', '2024-02-29', '2026-02-29', '0000-01-01', '9999-01-01', '2026-1-5'].map(isDay),
    ).toEqual([true, true, false, false, false, false])
  })

  it('is a text without halves of characters, in the composed form', () => {
    // String.isWellFormed of the language itself (ECMA-262, 2024) says the same of every text without the
    // character 0.
    fc.assert(
      fc.property(
        fc.string({ unit: 'binary' }).map(text => text.replaceAll('\0', '')),
        text => isText(text) === text.isWellFormed(),
      ),
    )
    expect([isText('a\0b'), isText('\ud83d'), isText('🌊')]).toEqual([false, false, true])
    expect(cleanText('e\u0301\ud83d\0 🌊')).toBe('é 🌊')
    expect(normalizeJson({ 'cafe\u0301': ['e\u0301', 1, null, true] })).toEqual({
      ok: true,
      value: { café: ['é', 1, null, true] },
    })
  })

  it('names the place of what cannot be stored, and ends at forty levels', () => {
    expect(normalizeJson({ answers: { name: { value: 'a\0' } } })).toMatchObject({
      ok: false,
      problems: [{ code: 'text-unstorable', at: 'answers/name/value' }],
    })
    let deep: unknown = 1
    for (let level = 0; level < 5000; level++) deep = [deep]
    expect(normalizeJson(deep)).toMatchObject({ ok: false, problems: [{ code: 'too-deep' }] })
  })
})

describe('nothing lost, 18: a name', () => {
  it('shows something: letters without width, marks and spaces alone are none', () => {
    expect(['\u200b', '\u200b\u200d \ufeff', ' \t', '\u0301', '\u2800', '\u3164', ''].some(isVisible)).toBe(
      false,
    )
    expect(['a', '\u200ba', 'é', '水', 'ب', '7', '🌊'].every(isVisible)).toBe(true)
  })

  it('is given in languages that there are (ISO 639-1)', () => {
    expect(['en', 'fr', 'sw', 'ar'].every(isLanguage)).toBe(true)
    expect(['xx', 'EN', 'english', 'e', '__proto__', ''].some(isLanguage)).toBe(false)
  })
})
