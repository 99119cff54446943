import fc from 'fast-check'
import { DateTime } from 'luxon'
import { v4, v7 } from 'uuid'
import { describe, expect, it } from 'vitest'
import { MEASLES_CASES } from '../../demo/registers/measles'
import type { Answers, AnswerValue } from '../form/answer'
import { parseDay, printDay } from '../calendar/day'
import { must } from '../result'
import { foldCase } from './fold'
import { pseudonymOf, withoutPersonal, yearsBefore } from './personal'

const filled = (values: Record<string, AnswerValue>): Answers =>
  Object.fromEntries(Object.entries(values).map(([key, value]) => [key, { kind: 'value', value }]))
const CASE = '01a220cf-2fad-71c7-b4d9-5a1cb1958c41'
const ANSWERS = filled({
  case_number: 'ASH-26-0001',
  full_name: 'Ila Marsh',
  sex: 'f',
  born_on: '2019-03-11',
  age_years: 7,
  village: 'Saltings',
  phone: '555 0100',
  rash_on: '2026-10-12',
  outcome: 'alive',
})

describe('a pseudonym', () => {
  it('is the same for the same case, and another for another', () => {
    expect(pseudonymOf(CASE)).toBe(pseudonymOf(CASE))
    expect(pseudonymOf(CASE)).toMatch(/^P-[0-9A-HJKMNP-TV-Z]{8}$/)
    const many = Array.from({ length: 5_000 }, (_, at) => pseudonymOf(at % 2 ? v4() : v7()))
    expect(new Set(many).size).toBe(many.length)
  })
})

describe('answers without what is personal', () => {
  it('have the pseudonym for name and number, the year for a day, and nothing for the rest', () => {
    expect(withoutPersonal(MEASLES_CASES, ANSWERS, CASE)).toEqual(
      filled({
        case_number: pseudonymOf(CASE),
        full_name: pseudonymOf(CASE),
        sex: 'f',
        born_on: '2019',
        age_years: 7,
        rash_on: '2026-10-12',
        outcome: 'alive',
      }),
    )
  })

  it('reach into repeats, and leave what is not known without its reason, which may name somebody', () => {
    const children: Answers = {
      ...filled({ children: ['k1'], 'children/k1/child_name': 'Tavi', 'children/k1/child_vaccinated': true }),
      phone: { kind: 'notKnown', reason: 'His mother, Wenna Drift, has none' },
    }
    expect(withoutPersonal(MEASLES_CASES, children, CASE)).toEqual(
      filled({ children: ['k1'], 'children/k1/child_vaccinated': true }),
    )
  })

  it('are the same when they are taken once more', () => {
    const once = withoutPersonal(MEASLES_CASES, ANSWERS, CASE)
    expect(withoutPersonal(MEASLES_CASES, once, CASE)).toEqual(once)
    expect(withoutPersonal({ ...MEASLES_CASES, keeping: undefined }, ANSWERS, CASE)).toEqual(ANSWERS)
  })

  it('give the case that is known without them, whether they are taken from entries or from the case (property)', () => {
    const day = fc.integer({ min: 10_000, max: 20_000 }).map(printDay)
    const values = fc.record(
      {
        full_name: fc.constantFrom('Ila Marsh', 'Tavi Quill'),
        born_on: day,
        phone: fc.constantFrom('555 0100', '555 0101'),
        outcome: fc.constantFrom('alive', 'died'),
        sex: fc.constantFrom('f', 'm'),
      },
      { requiredKeys: [] },
    )
    const known = (entries: Answers[]) =>
      Object.fromEntries(
        [
          ...foldCase(
            CASE,
            entries.map((answers, at) => ({
              ...{ id: `e${at}`, case: CASE, form: 'registration', answers },
              ...{ happenedAt: at, receivedAt: at },
            })),
          ).values,
        ].map(([key, { content }]) => [key, content]),
      )
    fc.assert(
      fc.property(fc.array(values, { maxLength: 4 }), all => {
        const entries = all.map(one => filled(one as Record<string, AnswerValue>))
        expect(known(entries.map(answers => withoutPersonal(MEASLES_CASES, answers, CASE)))).toEqual(
          withoutPersonal(MEASLES_CASES, known(entries), CASE),
        )
      }),
    )
  })
})

describe('years before a day', () => {
  it('are those of luxon, leap days among them', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 40_000 }), fc.integer({ min: 1, max: 100 }), (day, years) => {
        const expected = DateTime.fromISO(printDay(day), { zone: 'utc' }).minus({ years }).toISODate()!
        expect(printDay(yearsBefore(day, years))).toBe(expected)
      }),
    )
    expect(printDay(yearsBefore(must(parseDay('2024-02-29')), 1))).toBe('2023-02-28')
  })
})
