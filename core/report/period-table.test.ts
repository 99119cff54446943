import fc from 'fast-check'
import { DateTime } from 'luxon'
import { describe, expect, it } from 'vitest'
import { MONTHLY_SUMMARY } from '../../demo/monthly/edition'
import { monthTable, OCTOBER_2026 } from '../../tests/support/month-table'
import { firstDay, lastDay, shiftPeriod, type Period } from '../calendar/period'
import { parsePeriod, printPeriod } from '../calendar/period-text'
import { compile } from '../expression/compile'
import { blanksBehind } from '../expression/blanks-behind'
import { vocabularyOf } from '../expression/vocabulary'
import { must } from '../result'
import { asOneReport, indicators } from '../rollup/indicator'
import { compileRules, lookBackOf } from '../rule/compile-rules'
import { findDoubts } from '../rule/find-doubts'
import { withRules } from '../rule/rules.fixture'
import { tryOut, tablesOfPast, type Past } from '../rule/try-out'
import type { CellContent } from './cell'
import { cellsOf } from './edition'
import { earlierPeriods, historyOf, periodTable, reportTable, tablesOfHistory } from './period-table'
import { tableOf, type CellMap } from './table'

const value = (number: number): CellContent => ({ kind: 'value', value: number })
const VOCABULARY = vocabularyOf(MONTHLY_SUMMARY)
const compiled = (text: string) => must(compile(text, VOCABULARY))
const problemsOf = (text: string) => {
  const found = compile(text, VOCABULARY)
  return found.ok ? [] : found.problems.map(({ code }) => code)
}
/** Every report is its period’s place in the row of periods. */
const endless = (period: Period) =>
  periodTable(period, ({ index }) => tableOf([{ low_weight: value(index) }]))!

describe('numbers right, 4: a year before', () => {
  it.each([
    ['2026-10', '2025-10'],
    ['2026-Q1', '2025-Q1'],
    ['2026-S2', '2025-S2'],
    ['2026', '2025'],
    ['2026-W40', '2025-W40'],
    ['2026-10-05', '2025-10-05'],
    ['2021-W01', '2020-W01'],
  ])('of %s is %s', (period, before) => {
    const now = must(parsePeriod(period))
    expect(compiled('year_before(low_weight)').run(endless(now))[0]).toBe(must(parsePeriod(before)).index)
    expect(earlierPeriods(now, [0, 0]).map(printPeriod)).toEqual([before])
  })

  it.each(['2020-W53', '2024-02-29'])('of %s is none: there is no such week or day', period => {
    expect(compiled('year_before(low_weight)').run(endless(must(parsePeriod(period))))[0]).toBeNaN()
  })

  it('of a week is the week of the same ISO number, as luxon counts', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1_500, max: 5_000 }), index => {
        const week: Period = { frequency: 'week', index }
        const { weekNumber, weekYear } = DateTime.fromMillis(firstDay(week) * 86_400_000, { zone: 'utc' })
        const before = DateTime.fromObject(
          {
            weekYear: weekYear - 1,
            weekNumber: Math.min(weekNumber, DateTime.fromObject({ weekYear: weekYear - 1 }).weeksInWeekYear),
            weekday: 1,
          },
          { zone: 'utc' },
        )
        const found = compiled('year_before(low_weight)').run(endless(week))[0]!
        if (before.weekNumber === weekNumber)
          expect(firstDay({ frequency: 'week', index: found })).toBe(before.toMillis() / 86_400_000)
        else expect(found).toBeNaN()
      }),
    )
  })
})

describe('numbers right, 5: rules that could never fire', () => {
  const run = (text: string, today = 20_000) => compiled(text).run(endless(OCTOBER_2026), { today })[0]

  it('have the days of their period, and today', () => {
    expect([run('period_start()'), run('period_end()'), run('today()')]).toEqual([
      firstDay(OCTOBER_2026),
      lastDay(OCTOBER_2026),
      20_000,
    ])
    const [doubts] = findDoubts(
      must(
        compileRules(
          withRules({
            expression:
              'days_between(period_start(), period_end()) + 1 < 31 and today() > date("2020-01-01")',
          }),
        ),
      ),
      [],
      endless(OCTOBER_2026),
      20_000,
    )
    expect(doubts).toHaveLength(1)
  })

  it('have as much history as they ask for, up to 60 periods', () => {
    expect(lookBackOf([compiled('previous(low_weight, 60)')])).toEqual([60])
    expect(
      lookBackOf([compiled('mean_of_last(previous(low_weight, 10), 24) > year_before(low_weight)')]),
    ).toEqual([34, 0])
    expect(run('previous(low_weight, 60)')).toBe(OCTOBER_2026.index - 60)
    expect(run('mean_of_last(low_weight, 24)')).toBe(OCTOBER_2026.index - 12.5)
    expect(problemsOf('previous(low_weight, 61)')).toEqual(['expression-periods'])
    expect(problemsOf('previous(previous(low_weight, 40), 40)')).toEqual(['expression-periods'])
  })

  it('read what they look at, and nothing else', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('2026-10', '2026-W40', '2020-W53', '2026-Q3', '2026', '2024-03-01'),
        fc.nat(5),
        fc.nat(2),
        (text, back, years) => {
          const period = must(parsePeriod(text))
          const [open, close] = ['year_before('.repeat(years), ')'.repeat(years)]
          const asks = [
            `low_weight = 0`,
            ...(back
              ? [
                  `previous(low_weight, ${back}) > 0`,
                  `previous(${open}low_weight${close}, ${back}) > 0`,
                  `${open}mean_of_last(low_weight, ${back})${close} > 0`,
                ]
              : [`${open}low_weight${close} > 0`]),
          ].join(' or ')
          const listed = new Set(
            earlierPeriods(period, lookBackOf([compiled(asks)], 0)).map(({ index }) => index),
          )
          const asked = new Set<number>()
          compiled(asks).run(
            periodTable(period, ({ index }) => {
              asked.add(index)
              return tableOf([{}])
            })!,
          )
          asked.delete(period.index)
          for (const index of asked) expect(listed.has(index)).toBe(true)
          // Few are read in vain: those between, and steps on the other side of a year.
          expect(listed.size).toBeLessThanOrEqual(back + (years ? (back + 1) * 2 : 0))
        },
      ),
    )
  })

  it('are refused where there are no periods', () => {
    expect(problemsOf('previous(low_weight)')).toEqual([])
    for (const text of [
      'previous(low_weight) = 1',
      'mean_of_last(low_weight, 3) > 1',
      'year_before(low_weight) > 1',
      'period_start() < today()',
    ]) {
      const found = compile(text, { ...VOCABULARY, noPeriods: true })
      expect(found.ok ? [] : found.problems.map(({ code }) => code)).toContain('expression-no-period')
    }
  })

  it('an indicator that looks back has its figure from rolled-up figures', () => {
    const edition = {
      ...MONTHLY_SUMMARY,
      indicators: [
        {
          ...MONTHLY_SUMMARY.indicators[0]!,
          numerator: 'low_weight - previous(low_weight)',
          denominator: 'previous(low_weight)',
          factor: 100,
        },
      ],
    }
    const rolled = (...reports: number[]) =>
      asOneReport(cellsOf(edition), tableOf(reports.map(number => ({ low_weight: value(number) }))))
    const september = { ...OCTOBER_2026, index: OCTOBER_2026.index - 1 }
    const table = reportTable(rolled(30, 30), OCTOBER_2026, ({ index }) =>
      index === september.index ? tableOf([rolled(10, 20, 10)]) : undefined,
    )
    expect(indicators(edition, table)[0]).toMatchObject({ numerator: 20, denominator: 40, value: 50 })
  })
})

describe('numbers right, 8: a missing report', () => {
  const earlier = [[{ low_weight: value(12) }], [null], [{ low_weight: value(12) }]]
  const run = (text: string) =>
    compiled(text).run(monthTable([{ low_weight: value(3) }], earlier), { blanksAsZero: true })[0]

  it('is not zero, also where blanks count as zero; a blank in a report is', () => {
    expect([
      run('mean_of_last(low_weight, 3)'),
      run('previous(low_weight, 2)'),
      run('sum_of_last(low_weight, 3)'),
    ]).toEqual([12, NaN, NaN])
    expect([
      run('newborn_deaths'),
      run('previous(newborn_deaths)'),
      run('previous(newborn_deaths, 2)'),
    ]).toEqual([0, 0, NaN])
  })

  it('is named as what stood in the way', () => {
    expect(blanksBehind(compiled('previous(low_weight, 2) > 1'), monthTable([{}], earlier), 0)).toEqual([
      { cell: 'low_weight', back: 2, kind: 'noReport' },
    ])
  })
})

describe('numbers right, 11: filled', () => {
  it('of an earlier period says the same as of this one: not known and not offered are answers', () => {
    const kinds: (CellMap | null)[] = [
      { low_weight: value(1) },
      { low_weight: { kind: 'notKnown', reason: 'lost' } },
      { low_weight: { kind: 'notOffered' } },
      { low_weight: { kind: 'blank' } },
      {},
      null,
    ]
    const table = monthTable(kinds, [kinds])
    for (const text of ['filled(low_weight)', 'filled(previous(low_weight))'])
      expect([...compiled(text).run(table)]).toEqual([1, 1, 1, 0, 0, 0])
    expect([...compiled('filled(previous(low_weight, 2))').run(table)]).toEqual([0, 0, 0, 0, 0, 0])
    expect(
      compiled('filled(year_before(low_weight))').run(
        monthTable([{}], [...Array.from({ length: 11 }, () => [null]), [kinds[1]!]]),
      )[0],
    ).toBe(1)
  })
})

describe('numbers right, 10: telephone, district and try-out', () => {
  const cells = cellsOf(MONTHLY_SUMMARY)
  const keys = cells.map(({ key }) => key)
  const content = fc.oneof(
    { weight: 4, arbitrary: fc.nat(60).map(value) },
    fc.constantFrom<CellContent>(
      { kind: 'blank' },
      { kind: 'notKnown', reason: 'lost' },
      { kind: 'notOffered' },
    ),
  )
  const EXTRA = [
    'filled(previous(low_weight)) implies low_weight > 50',
    'previous(live_births) < 30',
    'low_weight <= sum_of_last(low_weight, 3)',
    'newborn_deaths <= previous(live_births, 2)',
    'year_before(low_weight) < 50',
    'mean_of_last(live_births, 14) > 3',
    'period_end() <= today() and live_births >= low_weight',
  ]
  const edition = {
    ...MONTHLY_SUMMARY,
    rules: [
      ...MONTHLY_SUMMARY.rules,
      ...withRules(
        ...EXTRA.map((expression, at) => ({
          expression,
          code: `extra_${at}`,
          blanks: at % 2 ? ('zero' as const) : ('notJudged' as const),
        })),
      ).rules,
    ],
  }
  const rules = must(compileRules(edition))
  const some = fc
    .array(
      fc.tuple(
        fc.constantFrom(
          ...keys,
          'low_weight',
          'low_weight',
          'newborn_deaths',
          'live_births.f',
          'live_births.m',
        ),
        content,
      ),
      { maxLength: 30 },
    )
    .map((pairs): CellMap => Object.fromEntries(pairs))

  it('judge alike: same contents, same doubts, whatever was in the earlier reports', () => {
    const periods = earlierPeriods(OCTOBER_2026, lookBackOf(rules.map(rule => rule.compiled)))
    const today = lastDay(OCTOBER_2026) + 5
    fc.assert(
      fc.property(
        some,
        fc.array(fc.option(some), { minLength: periods.length, maxLength: periods.length }),
        (report, earlier) => {
          // The district holds the reports themselves.
          const byPeriod = new Map(periods.map(({ index }, at) => [index, earlier[at]!]))
          const district = findDoubts(
            rules,
            cells,
            reportTable(report, OCTOBER_2026, ({ index }) =>
              byPeriod.has(index) ? tableOf([byPeriod.get(index)!]) : undefined,
            ),
            today,
          )
          // The telephone has what came over the wire.
          const history = JSON.parse(
            JSON.stringify(historyOf(periods.map(printPeriod), earlier, keys)),
          ) as ReturnType<typeof historyOf>
          const telephone = findDoubts(
            rules,
            cells,
            reportTable(report, OCTOBER_2026, tablesOfHistory(history)),
            today,
          )
          expect(telephone).toEqual(district)
          // A try-out has columns of many units.
          const whole = historyOf([OCTOBER_2026, ...periods].map(printPeriod), [report, ...earlier], keys)
          const past: Past = {
            ...whole,
            periods: whole.periods.map(period => ({ period, lastDay: '2026-10-31' })),
            judged: 1,
            units: [{ code: 'elm', name: 'Elm', path: ['elm'] }],
          }
          expect(findDoubts(rules, cells, tablesOfPast(past)[0]!, today)).toEqual(district)
          const work = tryOut(rules, past, today)
          let step = work.next()
          while (!step.done) step = work.next()
          expect(step.value.hits.map(({ band, explanation }) => ({ band, explanation }))).toEqual(
            district[0]!
              .filter(({ source }) => source === 'rule')
              .map(({ band, explanation }) => ({ band, explanation })),
          )
        },
      ),
      { numRuns: 200 },
    )
  }, 120_000)

  it('shift by whole periods', () => {
    expect(earlierPeriods(OCTOBER_2026, [2])).toEqual([
      shiftPeriod(OCTOBER_2026, -1),
      shiftPeriod(OCTOBER_2026, -2),
    ])
  })
})
