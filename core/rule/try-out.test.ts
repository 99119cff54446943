import { describe, expect, it } from 'vitest'
import { SMALL } from '../../tests/support/installation'
import { vocabularyOf } from '../expression/vocabulary'
import { must } from '../result'
import { indicatorOverPast } from '../rollup/indicator-past'
import { compileRuleList } from './compile-rules'
import { isFor, type RuleDefinition } from './definition'
import { tryOut, type Past, type TryOut } from './try-out'

const rule = (expression: string, more: Partial<RuleDefinition> = {}): RuleDefinition => ({
  code: 'tried',
  name: {},
  expression,
  strength: 'explain',
  blanks: 'notJudged',
  forClerk: {},
  forOfficer: {},
  ...more,
})

/**
 * Two units over three periods, newest first; the third is only looked back at. `oak` sent nothing in August.
 */
const PAST: Past = {
  periods: [
    { period: '2026-10', lastDay: '2026-10-31' },
    { period: '2026-09', lastDay: '2026-09-30' },
    { period: '2026-08', lastDay: '2026-08-31' },
  ],
  judged: 2,
  units: [
    { code: 'elm', name: 'Elm', path: ['coast', 'north', 'elm'] },
    { code: 'oak', name: 'Oak', path: ['coast', 'south', 'oak'] },
  ],
  received: [1, 1, 1, 1, 1, 0],
  numbers: {
    tested: [10, 20, 10, null, 5, null],
    positive: [12, 3, 4, 2, 1, null],
    'seen.f': [1, 2, 200, 4, 5, null],
    'seen.m': [1, null, 3, 4, 5, null],
  },
  notKnown: {},
  notOffered: { 'seen.m': [1] },
}

function tried(of: RuleDefinition, past = PAST): { result: TryOut; steps: number[] } {
  const work = tryOut(must(compileRuleList([of], vocabularyOf(SMALL), SMALL.axes)), past)
  const steps: number[] = []
  for (;;) {
    const step = work.next()
    if (step.done) return { result: step.value, steps }
    steps.push(step.value)
  }
}

describe('a rule tried on the past', () => {
  it('counts the reports in which it would have fired, and those that it could not judge', () => {
    const { result, steps } = tried(rule('positive <= tested'))
    expect(steps).toEqual([1, 2])
    expect(result).toMatchObject({
      reports: 4,
      fired: 1,
      notJudged: 1,
      hits: [{ unit: 0, period: 0, band: null }],
    })
    expect(result.hits[0]!.explanation).toMatchObject({
      left: { value: 12 },
      relation: '>',
      right: { value: 10 },
      by: 2,
    })
  })

  it('looks back at the periods before, also at those that it does not judge', () => {
    expect(tried(rule('tested = previous(tested)')).result).toMatchObject({ fired: 1, notJudged: 2 })
    expect(tried(rule('tested < 2 * previous(tested)')).result.hits).toMatchObject([{ unit: 0, period: 1 }])
  })

  it('counts a report once, however many bands of it failed, and tells each', () => {
    const { result } = tried(rule('seen < 1', { over: 'sex' }))
    expect(result.fired).toBe(4)
    expect(
      result.hits.filter(({ unit, period }) => unit === 1 && period === 0).map(({ band }) => band),
    ).toEqual(['f'])
    expect(result.hits).toHaveLength(7)
  })

  it('is held to where and from when it applies', () => {
    expect(tried(rule('tested > 100', { branch: 'north' })).result).toMatchObject({ reports: 2, fired: 2 })
    expect(tried(rule('tested > 100', { from: '2026-10-01' })).result).toMatchObject({ reports: 2, fired: 2 })
    expect(isFor({ branch: 'north' }, ['coast', 'south'], '2026-10-31')).toBe(false)
    expect(isFor({}, [], '2026-10-31')).toBe(true)
  })

  it('counts blanks as zero where the rule says so', () => {
    expect(tried(rule('tested >= 1', { blanks: 'zero' })).result).toMatchObject({ fired: 1, notJudged: 0 })
  })
})

describe('an indicator over the past', () => {
  const indicator = {
    code: 'share',
    name: {},
    numerator: 'positive',
    denominator: 'tested',
    factor: 100,
    unitOfMeasure: {},
  }
  it('is rolled up first and divided then, a figure a period', () => {
    // October: (12 + 3) / (10 + 20); September: oak's tests are blank and only elm's are in the sum.
    expect(must(indicatorOverPast(SMALL, indicator, PAST)).map(({ value }) => value)).toEqual([50, 60])
  })
  it('says what is wrong with its expressions', () => {
    expect(indicatorOverPast(SMALL, { ...indicator, numerator: 'gone' }, PAST)).toMatchObject({ ok: false })
  })
})
