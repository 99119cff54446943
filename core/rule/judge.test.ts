import { describe, expect, it } from 'vitest'
import { MONTHLY_SUMMARY } from '../../demo/monthly/edition'
import { renameCode } from '../expression/rename'
import { EXAMPLE_TODAY, EXAMPLE_VOCABULARY, exampleTable } from '../expression/worked-examples'
import { vocabularyOf } from '../expression/vocabulary'
import { formOfEdition } from '../form/form-of-edition'
import { axesOf, itemsOf, type Edition } from '../report/edition'
import type { CellContent } from '../report/cell'
import { tableOf, type ColumnTable } from '../report/table'
import { must } from '../result'
import { compileRuleList, compileRules } from './compile-rules'
import { detail, FAILED, judge, NOT_JUDGED, PASSED } from './judge'
import { withRules } from './rules.fixture'

const value = (number: number): CellContent => ({ kind: 'value', value: number })
const compiled = (...expressions: string[]) =>
  must(
    compileRuleList(withRules(...expressions.map(expression => ({ expression }))).rules, EXAMPLE_VOCABULARY),
  )
const verdicts = (...expressions: string[]) =>
  judge(compiled(...expressions), exampleTable(), EXAMPLE_TODAY).map(({ verdicts: [verdict] }) => verdict)

describe('rules look at', () => {
  it('one report, earlier periods, another dataset of the unit, and its cases', () => {
    expect(
      verdicts(
        'live_births <= deliveries',
        'deliveries <= 1.15 * mean_of_last(deliveries, 3)',
        'deliveries = year_before(deliveries)',
        'weekly_diseases.measles = measles',
        'measles < count(measles_cases where classification = "confirmed")',
        'not_yet > 3',
        'seen_on <= today()',
      ),
    ).toEqual([PASSED, FAILED, FAILED, PASSED, FAILED, NOT_JUDGED, PASSED])
  })

  it('nothing that is not there: no history, no other dataset, no cases', () => {
    const alone: ColumnTable = tableOf([
      { 'deliveries.u20': value(1), 'deliveries.a20plus': value(2), measles: value(0) },
    ])
    const judged = judge(
      compiled(
        'deliveries > previous(deliveries)',
        'weekly_diseases.measles = measles',
        'count(measles_cases) = measles',
      ),
      alone,
    )
    expect(judged.map(({ notJudged }) => notJudged)).toEqual([1, 1, 1])
    expect(judge([], alone)).toEqual([])
    expect(
      judge(compiled('measles = 0'), tableOf([])).map(({ passed, failed, notJudged }) => [
        passed,
        failed,
        notJudged,
      ]),
    ).toEqual([[0, 0, 0]])
  })

  it('divide by zero and are not judged; the explanation has a note of it', () => {
    const [judged] = judge(compiled('live_births / (measles - 3) > 1'), exampleTable())
    expect(judged!.notJudged).toBe(1)
  })
})

describe('behind a verdict', () => {
  it('of a failure are its values; of a report that was not judged the blank that caused it', () => {
    const rules = compiled('live_births > deliveries', 'not_yet > doses_used')
    const table = exampleTable()
    const [failed, unknown] = judge(rules, table)
    expect(detail(failed!, table, 0)).toMatchObject({
      verdict: FAILED,
      explanation: { left: { value: 58 }, right: { value: 60 }, relation: '<', by: 2 },
    })
    expect(detail(unknown!, table, 0)).toEqual({
      verdict: NOT_JUDGED,
      blanks: [{ cell: 'not_yet', back: 0, kind: 'blank' }],
    })
  })
})

describe('a rule that breaks', () => {
  it('spoils no other rule, and no other report', () => {
    const rows = tableOf([{ measles: value(1) }, { measles: value(2) }, { measles: value(3) }])
    // A text column whose middle row cannot be read.
    const texts = ['a', null, 'b'] as (string | null)[]
    Object.defineProperty(texts, 1, {
      get() {
        throw new Error('This text is damaged.')
      },
    })
    const [first, broken, last] = judge(compiled('measles > 1', 'village = "a"', 'measles < 3'), {
      ...rows,
      texts: () => texts,
    })
    expect([...first!.verdicts]).toEqual([FAILED, PASSED, PASSED])
    expect([...broken!.verdicts]).toEqual([PASSED, NOT_JUDGED, FAILED])
    expect(broken!.broken).toEqual([{ row: 1, reason: 'This text is damaged.' }])
    expect([...last!.verdicts]).toEqual([PASSED, PASSED, FAILED])
  })
})

describe('a dataset that changes under its rules', () => {
  const without = (code: string): Edition => ({
    ...MONTHLY_SUMMARY,
    sections: MONTHLY_SUMMARY.sections.map(section => ({
      ...section,
      items: section.items.filter(item => item.code !== code),
    })),
  })
  const renamedBand: Edition = {
    ...MONTHLY_SUMMARY,
    axes: MONTHLY_SUMMARY.axes.map(axis =>
      axis.code === 'vaccine'
        ? {
            ...axis,
            bands: axis.bands.map(band =>
              band.code === 'measles' ? { ...band, code: 'measles_rubella' } : band,
            ),
          }
        : axis,
    ),
  }

  it('tells every rule that names an item which was removed', () => {
    const named = MONTHLY_SUMMARY.rules
      .filter(({ expression }) => /\bdeliveries\b/.test(expression))
      .map(({ code }) => code)
    const result = compileRules(without('deliveries'))
    const told = result.ok ? [] : [...new Set(result.problems.map(({ values }) => values!.rule))]
    expect(named.length).toBeGreaterThan(0)
    expect(told).toEqual(named)
    expect(result.ok || result.problems.every(({ code }) => code.startsWith('expression-no-item'))).toBe(true)
  })

  it('tells every rule that names a band which was renamed, and renaming it in the rules mends them', () => {
    const result = compileRules(renamedBand)
    const told = result.ok ? [] : [...new Set(result.problems.map(({ values }) => values!.rule))]
    expect(told).toEqual(
      MONTHLY_SUMMARY.rules
        .filter(({ expression }) => expression.includes('[measles]'))
        .map(({ code }) => code),
    )
    expect(told.length).toBeGreaterThan(0)
    const vocabulary = vocabularyOf(MONTHLY_SUMMARY)
    const rules = MONTHLY_SUMMARY.rules.map(rule => ({
      ...rule,
      expression: renameCode(
        rule.expression,
        { what: 'band', axis: 'vaccine', from: 'measles', to: 'measles_rubella' },
        vocabulary,
      ),
    }))
    expect(compileRules({ ...renamedBand, rules }).ok).toBe(true)
  })

  it('refuses two items, two rules of one code, and an axis that it does not have', () => {
    const [first] = MONTHLY_SUMMARY.sections
    expect(
      formOfEdition({ ...MONTHLY_SUMMARY, sections: [first!, { ...first!, code: 'again' }] }),
    ).toMatchObject({
      ok: false,
      problems: [{ code: 'code-taken' }, ...first!.items.slice(1).map(() => ({ code: 'code-taken' }))],
    })
    expect(
      compileRules({ ...MONTHLY_SUMMARY, rules: [MONTHLY_SUMMARY.rules[0]!, MONTHLY_SUMMARY.rules[0]!] }),
    ).toMatchObject({ ok: false, problems: [{ code: 'rule-double' }] })
    expect(() => axesOf({ ...MONTHLY_SUMMARY, axes: [] }, itemsOf(MONTHLY_SUMMARY)[0]!)).toThrow(
      'names an axis',
    )
  })
})
