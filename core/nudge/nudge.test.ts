import fc from 'fast-check'
import { DateTime } from 'luxon'
import { describe, expect, it } from 'vitest'
import { messageParts } from './message-parts'
import { parsePhone } from './phone'
import { afterQuiet } from './quiet-hours'
import { checkNudge, fillNudge, LONGEST_NUDGE, NUDGE_FIELDS, sayMissing, USUAL_NUDGE } from './template'

describe('a telephone number', () => {
  // The examples of ITU-T E.123 (2001), notation of international numbers; from memory.
  it.each([
    ['+22 607 123 4567', '+226071234567'],
    ['+999 (41) 20-30.17', '+99941203017'],
    ['0099941203017', '+99941203017'],
  ])('%s is %s', (text, number) => expect(parsePhone(text)).toEqual({ ok: true, value: number }))

  // E.164: at most 15 digits, and a country's code does not begin with 0.
  it.each([
    ['041 20 30 17', 'phone-country'],
    ['+0 41 20 30 17', 'phone'],
    ['+999 4120 3017 4120 3017', 'phone'],
    ['+999 41', 'phone'],
    ['call Ana', 'phone'],
    ['', 'phone'],
    ['+999 41 20 30 17 ext 4', 'phone'],
  ])('%s is none: %s', (text, code) =>
    expect(parsePhone(text)).toMatchObject({ ok: false, problems: [{ code }] }),
  )
})

describe('the parts of a text message', () => {
  // Common practice by 3GPP TS 23.038 and 23.040: 160 letters of seven bits alone, 153 as one of several; 70 and
  // 67 with any other letter.
  it.each([
    ['a'.repeat(160), 1],
    ['a'.repeat(161), 2],
    ['a'.repeat(306), 2],
    ['a'.repeat(307), 3],
    ['ç'.repeat(70), 1],
    ['ç'.repeat(71), 2],
    ['ç'.repeat(134), 2],
    ['ç'.repeat(135), 3],
    // The euro sign takes two places, and is not cut in two.
    ['€'.repeat(80), 1],
    ['€'.repeat(81), 2],
    ['a' + '€'.repeat(76) + 'a'.repeat(8), 2],
    ['€'.repeat(153), 3],
    // A letter outside the basic plane takes two places of a wide part.
    ['😀'.repeat(35), 1],
    ['😀'.repeat(36), 2],
  ])('%.20s… has %i', (text, parts) => expect(messageParts(text).parts).toBe(parts))

  it('names the letters that make it short, each once', () => {
    expect(messageParts('Reçu, ça et là, où êtes-vous').costly).toEqual(['ç', 'ê'])
    expect(messageParts('Où est-il allé ? À la fin').costly).toEqual(['À'])
  })

  it('knows the 127 letters of the table, without the escape, and the ten of its extension', () => {
    const single = Array.from({ length: 0x2_fff }, (_, code) => String.fromCodePoint(code)).filter(
      letter => !messageParts(letter).costly.length,
    )
    expect(single).toHaveLength(127 + 10)
  })
})

describe('the text of a reminder', () => {
  const values = {
    ...{ facility: 'Sedge Bay', dataset: 'Monthly facility summary', period: 'October 2026' },
    ...{ due: '7 November', missing: 'Nothing has come.' },
  }

  it('is filled with what it names', () => {
    expect(fillNudge(USUAL_NUDGE.en!, values)).toEqual({
      ok: true,
      value:
        'Sedge Bay: Monthly facility summary, October 2026, due on 7 November. Nothing has come. Please send it, or call the district office.',
    })
    expect(fillNudge('{ due }\n {facility}', values)).toEqual({ ok: true, value: '7 November Sedge Bay' })
  })

  it.each([
    ['{facilty}: please send', 'nudge-field', { start: 0, end: 9 }],
    ['Please {facility', 'nudge-field', { start: 7, end: 8 }],
    ['Please facility}', 'nudge-field', { start: 15, end: 16 }],
    ['Please {}', 'nudge-field', { start: 7, end: 9 }],
    ['  ', 'nudge-empty', undefined],
    ['a'.repeat(LONGEST_NUDGE + 1), 'nudge-long', undefined],
  ])('%.20s is refused: %s', (text, code, at) => {
    expect(checkNudge(text)).toMatchObject([{ code, ...(at && { at }) }])
    expect(fillNudge(text, values).ok).toBe(false)
  })

  it('never leaves a brace, whatever a facility is called', () =>
    fc.assert(
      fc.property(fc.string(), facility => {
        const filled = fillNudge(NUDGE_FIELDS.map(field => `<{${field}}>`).join(''), { ...values, facility })
        expect(filled.ok && filled.value.includes(facility.replace(/\s+/g, ' ').trim())).toBe(true)
      }),
    ))

  it('says what is missing in both languages', () => {
    const kinds = [
      { kind: 'nothing' },
      { kind: 'draft', answered: 12, applies: 120 },
      { kind: 'sentBack', why: 'the stock' },
    ] as const
    expect(kinds.map(missing => sayMissing(missing, 'en'))).toEqual([
      'Nothing has come.',
      'It was begun: 12 of 120 answers.',
      'It was sent back: the stock.',
    ])
    expect(kinds.map(missing => sayMissing(missing, 'fr'))).toEqual([
      "Rien n'est arrivé.",
      'Commencé : 12 réponses sur 120.',
      'Il a été renvoyé : the stock.',
    ])
  })
})

describe('quiet hours', () => {
  const hours = { from: 19 * 60, to: 7 * 60 }
  const at = (text: string, zone: string) => DateTime.fromISO(text, { zone }).toMillis()

  it.each([
    ['2026-11-08T18:59', '2026-11-08T18:59'],
    ['2026-11-08T19:00', '2026-11-09T07:00'],
    ['2026-11-08T23:59', '2026-11-09T07:00'],
    ['2026-11-09T00:00', '2026-11-09T07:00'],
    ['2026-11-09T06:59', '2026-11-09T07:00'],
    ['2026-11-09T07:00', '2026-11-09T07:00'],
  ])('from seven to seven: %s is %s', (asked, sent) => {
    for (const zone of ['UTC', 'Etc/GMT+2', 'Asia/Kathmandu'])
      expect(afterQuiet(at(asked, zone), hours, zone)).toBe(at(sent, zone))
  })

  it('that begin and end on one day, and none', () => {
    const noon = { from: 12 * 60, to: 14 * 60 }
    expect(afterQuiet(at('2026-11-08T13:00', 'UTC'), noon, 'UTC')).toBe(at('2026-11-08T14:00', 'UTC'))
    expect(afterQuiet(at('2026-11-08T14:00', 'UTC'), noon, 'UTC')).toBe(at('2026-11-08T14:00', 'UTC'))
    expect(afterQuiet(at('2026-11-08T19:00', 'UTC'), { from: 60, to: 60 }, 'UTC')).toBe(
      at('2026-11-08T19:00', 'UTC'),
    )
  })

  it('agree with the hours that luxon shows, whenever it is', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 1_700_000_000_000, max: 1_900_000_000_000 }),
        fc.integer({ min: 0, max: 1439 }),
        fc.integer({ min: 0, max: 1439 }),
        (instant, from, to) => {
          const zone = 'Pacific/Chatham'
          const local = DateTime.fromMillis(instant, { zone })
          // On days on which the clocks change, the hours may be off by what they change.
          fc.pre(
            local.offset === local.minus({ days: 2 }).offset &&
              local.offset === local.plus({ days: 2 }).offset,
          )
          const minute = local.hour * 60 + local.minute
          const isQuiet = from <= to ? from <= minute && minute < to : from <= minute || minute < to
          const next = afterQuiet(instant, { from, to }, zone)
          if (!isQuiet) expect(next).toBe(instant)
          else {
            const ends = DateTime.fromMillis(next, { zone })
            expect(ends.hour * 60 + ends.minute).toBe(to)
            expect(next).toBeGreaterThan(instant)
            expect(next - instant).toBeLessThanOrEqual(86_400_000)
          }
        },
      ),
    ))
})
