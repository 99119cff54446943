import { PGlite } from '@electric-sql/pglite'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { MEASLES_CASES } from '../../demo/registers/measles'
import { parseDay } from '../calendar/day'
import { parsePeriod } from '../calendar/period-text'
import { compileRegister } from '../cases/compile-register'
import { countedRegister } from '../cases/counted'
import { caseOfKnown } from '../cases/fold'
import { detail, FAILED, judge, NOT_JUDGED, PASSED } from '../rule/judge'
import type { CellMap } from '../report/table'
import { reportTable } from '../report/period-table'
import { compileRuleList } from '../rule/compile-rules'
import { listsOf, NOTHING, type Name } from '../expression/vocabulary'
import { must } from '../result'
import { casesCounted, countFigures, countsAt, countsIn, filledUp, type CountedUnit } from './count-figures'

const measles = must(compileRegister(MEASLES_CASES))
const OCTOBER = must(parsePeriod('2026-10'))
const SEPTEMBER = must(parsePeriod('2026-09'))
const TODAY = must(parseDay('2026-11-03'))
const CONFIRMED = 'count(measles_cases where classification = "confirmed")'

const measlesItem: Name = {
  code: 'measles',
  label: { en: 'Measles' },
  type: 'number',
  unitOfMeasure: null,
  axes: [],
  cells: [{ key: 'measles', bands: [] }],
}
const vocabulary = {
  label: {},
  names: new Map([['measles', measlesItem]]),
  others: NOTHING,
  lists: listsOf({ counts: [countedRegister(measles)] }),
}
const rule = (expression: string) =>
  must(
    compileRuleList(
      [
        {
          code: 'counted',
          name: { en: 'Counted' },
          expression,
          strength: 'explain',
          blanks: 'notJudged',
          forClerk: {},
          forOfficer: {},
        },
      ],
      vocabulary,
    ),
  )
const found = (id: string, answers: Record<string, string | number>) =>
  caseOfKnown(
    id,
    Object.fromEntries(
      Object.entries(answers).map(([code, value]) => [code, { kind: 'value' as const, value }]),
    ),
  )
const CASES = [
  found('a', { rash_on: '2026-10-01', classification: 'confirmed', age_years: 3 }),
  found('b', { rash_on: '2026-10-31', classification: 'confirmed', age_years: 8 }),
  found('c', { rash_on: '2026-10-15', classification: 'discarded', age_years: 2 }),
  found('d', { rash_on: '2026-10-15', age_years: 2 }),
  found('e', { rash_on: '2026-09-30', classification: 'confirmed' }),
  found('f', { classification: 'confirmed' }),
]
const units = (more: Partial<CountedUnit> = {}) =>
  new Map([['measles_cases', { register: measles, cases: CASES, ...more }]])
const figures = (expression: string, of = units()) =>
  countFigures(countsIn(rule(expression)), of, [OCTOBER, SEPTEMBER], TODAY)

describe('the counts of cases that rules make', () => {
  it('are found once each, also inside of what looks back', () => {
    const rules = [
      ...rule(`measles >= ${CONFIRMED}`),
      ...rule(`${CONFIRMED} + count(measles_cases) <= previous(${CONFIRMED}) + 9`),
    ]
    expect(countsIn(rules).map(({ text, questions }) => [text, questions])).toEqual([
      [CONFIRMED, ['classification']],
      ['count(measles_cases)', []],
    ])
  })

  it('count in the period of the counting date, where the condition is known to hold', () => {
    expect(figures(`measles >= ${CONFIRMED}`)).toEqual({
      periods: ['2026-10', '2026-09'],
      numbers: { [CONFIRMED]: [2, 1] },
    })
    expect(figures('measles >= count(measles_cases)').numbers).toEqual({ 'count(measles_cases)': [4, 1] })
  })

  it('open to their cases', () => {
    const [counting] = countsIn(rule(`measles >= ${CONFIRMED}`))
    expect(casesCounted(counting!, units().get('measles_cases')!, OCTOBER, TODAY)).toEqual(['a', 'b'])
  })

  it('say nothing of a register that is not here, of a question that is asked no more, of deleted days', () => {
    expect(figures(`measles >= ${CONFIRMED}`, new Map()).numbers[CONFIRMED]).toEqual([null, null])
    const gone = {
      ...measles,
      kindOf: new Map([...measles.kindOf].filter(([code]) => code !== 'classification')),
    }
    expect(figures(`measles >= ${CONFIRMED}`, units({ register: gone })).numbers[CONFIRMED]).toEqual([
      null,
      null,
    ])
    const own = figures(`measles >= ${CONFIRMED}`, units({ since: must(parseDay('2026-10-01')) }))
    expect(own.numbers[CONFIRMED]).toEqual([2, null])
    // What a device has deleted, the district still knows.
    expect(filledUp(own, figures(`measles >= ${CONFIRMED}`)).numbers[CONFIRMED]).toEqual([2, 1])
    expect(filledUp(own, undefined).numbers[CONFIRMED]).toEqual([2, null])
  })
})

describe('a rule that counts cases', () => {
  const judged = (expression: string, report: CellMap, of = units()) => {
    const rules = rule(expression)
    const counts = countsAt(countFigures(countsIn(rules), of, [OCTOBER, SEPTEMBER], TODAY))
    const earlier = () => reportTable({ measles: { kind: 'value', value: 9 } }, SEPTEMBER, () => undefined)
    const table = reportTable(report, OCTOBER, earlier, undefined, counts)
    const [judgement] = judge(rules, table)
    return detail(judgement!, table, 0)
  }
  const report = (value: number): CellMap => ({ measles: { kind: 'value', value } })

  it('is judged on the count of the report’s unit and period, and says it', () => {
    expect(judged(`measles >= ${CONFIRMED}`, report(2)).verdict).toBe(PASSED)
    const { verdict, explanation } = judged(`measles >= ${CONFIRMED}`, report(1))
    expect(verdict).toBe(FAILED)
    expect(explanation).toMatchObject({
      left: { value: 1 },
      relation: '<',
      right: { value: 2, parts: [{ item: 'measles_cases', count: CONFIRMED, value: 2 }] },
      by: 1,
    })
  })

  it('looks back to the counts of earlier periods', () => {
    expect(judged(`previous(${CONFIRMED}) = measles`, report(1)).verdict).toBe(PASSED)
    expect(judged(`previous(${CONFIRMED}) = measles`, report(2)).verdict).toBe(FAILED)
  })

  it('is not judged where it cannot be counted, and zero where no case is', () => {
    expect(judged(`measles >= ${CONFIRMED}`, report(1), new Map()).verdict).toBe(NOT_JUDGED)
    expect(judged(`measles = ${CONFIRMED}`, report(0), units({ cases: [] })).verdict).toBe(PASSED)
  })
})

describe('the counts, beside PostgreSQL', () => {
  let database: PGlite
  beforeAll(async () => {
    database = await PGlite.create()
    await database.exec('CREATE TABLE seen (rash date, class text, age int)')
  })
  afterAll(async () => {
    await database.close()
  })

  it('are the same for any cases', async () => {
    const day = fc.option(
      fc.constantFrom('2026-08-31', '2026-09-01', '2026-09-30', '2026-10-01', '2026-10-31', '2026-11-01'),
    )
    const drawn = fc.array(
      fc.record({
        rash: day,
        class: fc.option(fc.constantFrom('confirmed', 'discarded')),
        age: fc.option(fc.nat(9)),
      }),
      { maxLength: 25 },
    )
    const text = 'count(measles_cases where age_years < 5 or classification = "confirmed")'
    await fc.assert(
      fc.asyncProperty(drawn, async list => {
        const cases = list.map((one, at) =>
          found(`k${at}`, {
            ...(one.rash && { rash_on: one.rash }),
            ...(one.class && { classification: one.class }),
            ...(one.age !== null && { age_years: one.age }),
          }),
        )
        await database.exec('TRUNCATE seen')
        await database.query('INSERT INTO seen SELECT * FROM unnest($1::date[], $2::text[], $3::int[])', [
          list.map(({ rash }) => rash),
          list.map(one => one.class),
          list.map(({ age }) => age),
        ])
        const { rows } = await database.query<{ n: number }>(
          `SELECT count(s.*)::int AS n FROM unnest(ARRAY['2026-10-01', '2026-09-01']::date[]) WITH ORDINALITY AS month (first, place)
           LEFT JOIN seen s ON date_trunc('month', s.rash) = month.first AND (s.age < 5 OR s.class = 'confirmed')
           GROUP BY place ORDER BY place`,
        )
        const own = countFigures(
          countsIn(rule(`measles >= ${text}`)),
          units({ cases }),
          [OCTOBER, SEPTEMBER],
          TODAY,
        )
        expect(own.numbers[text]).toEqual(rows.map(({ n }) => n))
      }),
      { numRuns: 60 },
    )
  })
})
