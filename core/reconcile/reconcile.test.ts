import { PGlite } from '@electric-sql/pglite'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { MEASLES_CASES } from '../../demo/registers/measles'
import { parseDay } from '../calendar/day'
import { parsePeriod } from '../calendar/period-text'
import { compileRegister } from '../cases/compile-register'
import { foldCase } from '../cases/fold'
import type { AnswerValue } from '../form/answer'
import type { CellContent } from '../report/cell'
import { must } from '../result'
import {
  compileBinding,
  reconcile,
  reportedBy,
  type CaseBinding,
  type HeldReport,
  type CaseToCount,
} from './reconcile'

const measles = must(compileRegister(MEASLES_CASES))
const within = (unit: string, branch: string) => unit === branch || unit.startsWith(`${branch}_`)
const kept = (
  id: string,
  unit: string,
  answers: Record<string, AnswerValue>,
  receivedAt = 0,
): CaseToCount => ({
  unit,
  receivedAt,
  file: foldCase(id, [
    {
      id: `${id}1`,
      case: id,
      form: 'registration',
      happenedAt: 0,
      receivedAt,
      answers: Object.fromEntries(
        Object.entries(answers).map(([key, value]) => [key, { kind: 'value' as const, value }]),
      ),
    },
  ]),
})
const binding = (more: Partial<CaseBinding> = {}) =>
  must(
    compileBinding(
      { cells: ['measles.u5'], place: 'care', residence: 'zone', date: 'rash_on', ...more },
      measles,
    ),
  )
const report = (content: CellContent | number, sentAt: number | null = 100): HeldReport => ({
  unit: 'lowgate',
  period: must(parsePeriod('2026-10')),
  contents: { 'measles.u5': typeof content === 'number' ? { kind: 'value', value: content } : content },
  sentAt,
})
const october = { rash_on: '2026-10-05' }

describe('cells against case counts', () => {
  it('agree, or one side is higher; a blank cell judges nothing', () => {
    const cases = [kept('a', 'lowgate', october), kept('b', 'lowgate', october)]
    const verdict = (content: CellContent | number) =>
      reconcile(binding(), measles, report(content), cases, within).verdict
    expect([
      verdict(2),
      verdict(3),
      verdict(1),
      verdict({ kind: 'blank' }),
      verdict({ kind: 'notKnown', reason: 'lost' }),
      verdict({ kind: 'notOffered' }),
    ]).toEqual(['equal', 'reportHigher', 'registerHigher', 'notJudged', 'notJudged', 'notJudged'])
    expect(reconcile(binding(), measles, report(0), [], within)).toMatchObject({
      verdict: 'equal',
      reported: 0,
      counted: [],
      near: [],
    })
  })

  it('open to the cases that count here, each with why, and whether it came before the report was sent', () => {
    const found = reconcile(
      binding(),
      measles,
      report(1),
      [kept('a', 'lowgate', october, 99), kept('b', 'lowgate', { rash_on: '2026-10-31' }, 101)],
      within,
    )
    expect(found.counted).toEqual([
      { case: 'a', by: 'care', day: must(parseDay('2026-10-05')), before: true },
      { case: 'b', by: 'care', day: must(parseDay('2026-10-31')), before: false },
    ])
    expect(found.agreedWhenSent).toBe(true)
    expect(
      reconcile(binding(), measles, report(1, null), [kept('a', 'lowgate', october)], within).counted[0]!
        .before,
    ).toBeNull()
  })

  it('and to those that nearly do: elsewhere, in another period, without a date, against the condition', () => {
    const cases = [
      kept('here', 'lowgate', { ...october, zone: 'lowgate_1', classification: 'confirmed' }),
      kept('lives here', 'ashmere', { ...october, zone: 'lowgate_1', classification: 'confirmed' }),
      kept('november', 'lowgate', { rash_on: '2026-11-01', classification: 'confirmed' }),
      kept('no day', 'lowgate', { classification: 'confirmed' }),
      kept('discarded', 'lowgate', { ...october, classification: 'discarded' }),
      kept('not classified', 'lowgate', october),
      kept('two things', 'lowgate', { rash_on: '2026-11-01', classification: 'discarded' }),
      kept('far', 'ashmere', { ...october, classification: 'confirmed' }),
    ]
    const bound = binding({ where: 'classification = "confirmed"' })
    const found = reconcile(bound, measles, report(3), cases, within)
    expect(found.counted.map(({ case: id }) => id)).toEqual(['here'])
    expect(found.near.map(({ case: id, why }) => [id, why])).toEqual([
      ['lives here', 'elsewhere'],
      ['november', 'otherPeriod'],
      ['no day', 'noDate'],
      ['discarded', 'condition'],
      ['not classified', 'conditionUnknown'],
    ])
    expect(found.near[0]).toMatchObject({ unit: 'ashmere' })
    const byHome = reconcile({ ...bound, place: 'residence' }, measles, report(3), cases, within)
    expect(byHome.counted.map(({ case: id, by }) => [id, by])).toEqual([
      ['here', 'residence'],
      ['lives here', 'residence'],
    ])
  })

  it('add up cells, and refuse a condition that cannot run', () => {
    const both = must(
      compileBinding({ cells: ['measles.u5', 'measles.a5plus'], place: 'care', date: 'rash_on' }, measles),
    )
    const contents: HeldReport['contents'] = {
      'measles.u5': { kind: 'value', value: 1 },
      'measles.a5plus': { kind: 'notOffered' },
    }
    expect(
      reconcile(both, measles, { ...report(0), contents }, [kept('a', 'lowgate', october)], within),
    ).toMatchObject({ verdict: 'equal', reported: 1 })
    expect(
      compileBinding({ cells: [], place: 'care', date: 'rash_on', where: 'moon = 3' }, measles),
    ).toMatchObject({ ok: false, problems: [{ code: 'expression-no-item' }] })
  })
})

describe('the count', () => {
  let database: PGlite
  beforeAll(async () => {
    database = await PGlite.create()
    await database.exec('CREATE TABLE kept (unit text, rash date, age int)')
  })
  afterAll(async () => {
    await database.close()
  })

  it('is PostgreSQL’s', async () => {
    const drawn = fc.array(
      fc.record({
        unit: fc.constantFrom('lowgate', 'ashmere'),
        rash: fc.option(fc.integer({ min: 25, max: 36 })),
        age: fc.option(fc.nat(9)),
      }),
      { maxLength: 20 },
    )
    const bound = binding({ where: 'age_years < 5' })
    await fc.assert(
      fc.asyncProperty(drawn, async list => {
        const dates = list.map(({ rash }) =>
          rash === null
            ? null
            : `2026-${rash > 31 ? '11' : '10'}-${String(rash > 31 ? rash - 31 : rash).padStart(2, '0')}`,
        )
        const cases = list.map(({ unit, age }, at) =>
          kept(`k${at}`, unit, {
            ...(dates[at] && { rash_on: dates[at] }),
            ...(age !== null && { age_years: age }),
          }),
        )
        await database.exec('TRUNCATE kept')
        await database.query('INSERT INTO kept SELECT * FROM unnest($1::text[], $2::date[], $3::int[])', [
          list.map(({ unit }) => unit),
          dates,
          list.map(({ age }) => age),
        ])
        const { rows } = await database.query<{ n: number }>(
          `SELECT count(*)::int AS n FROM kept WHERE unit = 'lowgate' AND rash BETWEEN '2026-10-01' AND '2026-10-31' AND age < 5`,
        )
        expect(reconcile(bound, measles, report(0), cases, within).counted).toHaveLength(rows[0]!.n)
      }),
      { numRuns: 60 },
    )
  })
})

describe('what cells of a report say together', () => {
  const value = (of: number) => ({ kind: 'value' as const, value: of })
  it('is their sum, to which a service that is not offered adds nothing', () => {
    expect(reportedBy([value(3), { kind: 'notOffered' }, value(0)])).toBe(3)
  })
  it('is nothing while one of them is no number, or none is offered', () => {
    expect(reportedBy([value(3), { kind: 'blank' }])).toBeNull()
    expect(reportedBy([value(3), { kind: 'notKnown', reason: 'The page is torn.' }])).toBeNull()
    expect(reportedBy([{ kind: 'notOffered' }])).toBeNull()
  })
})
