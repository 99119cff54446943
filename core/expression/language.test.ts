import { PGlite } from '@electric-sql/pglite'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { must } from '../result'
import { tableOf } from '../report/table'
import { blanksBehind } from './blanks-behind'
import { compile } from './compile'
import { complete } from './complete'
import { dependsOn } from './depends-on'
import { evaluateRow } from './evaluate-row'
import { explain } from './explain'
import { inWords } from './in-words'
import { parse } from './parse'
import { print } from './print'
import { renameCode, type Renaming } from './rename'
import { scan } from './scan'
import { EXAMPLE_TODAY as today, EXAMPLE_VOCABULARY as vocabulary, exampleTable } from './worked-examples'

const compiled = (text: string) => must(compile(text, vocabulary))
const run = (text: string) => evaluateRow(compiled(text), exampleTable(), 0, { today })

describe('what the language can say', () => {
  it.each<[string, number | string | null]>([
    ['live_births between 50 and 58', 1],
    ['live_births between 59 and 70', 0],
    ['not_yet between 1 and 2', null],
    ['live_births in (1, 58)', 1],
    ['live_births in (1, not_yet)', null],
    ['not_yet in (1, 2)', null],
    ['village = "Eastfold"', 1],
    ['village != "Eastfold"', 0],
    ['village in ("a", "Eastfold")', 1],
    ['"say ""ah""" = "x"', 0],
    ['open_all_month', 1],
    ['not open_all_month', 0],
    ['if(deliveries > 100, "many", "few")', 'few'],
    ['if(not_yet > 1, 1, 2)', null],
    ['coalesce(village, "none")', 'Eastfold'],
    ['previous(village)', null],
    ['seen_on = date("2026-10-05")', 1],
    ['seen_on + 7 = date("2026-10-12")', 1],
    ['seen_on between period_start() and period_end()', 1],
    ['days_between(seen_on, today())', 35],
    ['years_between(date("2024-02-29"), date("2025-02-28"))', 1],
    ['max(seen_on, period_end()) = period_end()', 1],
    ['length(coalesce(village, ""))', 8],
    ['weekly_diseases.measles = measles', 1],
    ['count(measles_cases)', 4],
    ['count(measles_cases where classification = "confirmed")', 3],
    ['count(measles_cases where age_years < 5)', 2],
    ['deliveries > 1.15 * mean_of_last(deliveries, 3)', 1],
    ['year_before(deliveries) = previous(deliveries, 12)', 1],
    ['previous(deliveries, 13)', null],
    ['sum_of_last(deliveries, 13)', null],
    ['includes(symptoms, "cough")', 0],
    ['filled(symptoms) and filled(village) and not filled(not_yet)', 1],
    ['floor(-0.5)', -1],
    ['live_births / 0', null],
    ['-(2 - 2)', 0],
  ])('%s is %s', (text, wanted) => {
    expect(run(text)).toBe(wanted)
  })

  it('keeps one number beside the other in scratch columns: operands that are read twice stay', () => {
    expect(run('(live_births + 1) between (live_births + 0) and (live_births + 2)')).toBe(1)
    expect(run('(live_births + 1) in (live_births * 2, live_births + 3, live_births - -1)')).toBe(1)
    expect(
      run(
        'if(live_births + 1 > 2, live_births + 3, live_births + 4) + if(live_births + 1 < 2, 1, live_births * 2)',
      ),
    ).toBe(61 + 116)
  })

  it('counts the blanks of a rule as zero, but what is not known stays unknown', () => {
    const sum = compiled('deliveries >= 1')
    const rows = tableOf([
      { 'deliveries.u20': { kind: 'value', value: 3 } },
      {
        'deliveries.u20': { kind: 'value', value: 3 },
        'deliveries.a20plus': { kind: 'notKnown', reason: 'book lost' },
      },
      {},
      { 'deliveries.u20': { kind: 'notOffered' }, 'deliveries.a20plus': { kind: 'notOffered' } },
    ])
    expect([...sum.run(rows, { blanksAsZero: true })]).toEqual([1, NaN, 0, 0])
    expect([...sum.run(rows)]).toEqual([NaN, NaN, NaN, NaN])
  })
})

describe('results explain themselves', () => {
  it('with other datasets, counts, days and texts', () => {
    expect(
      explain(
        compiled('weekly_diseases.measles < count(measles_cases where classification = "confirmed")'),
        exampleTable(),
        0,
      ),
    ).toEqual({
      left: {
        value: 3,
        parts: [{ item: 'measles', source: 'weekly_diseases', bands: [], back: 0, value: 3 }],
      },
      right: {
        value: 3,
        parts: [
          {
            item: 'measles_cases',
            count: 'count(measles_cases where classification = "confirmed")',
            bands: [],
            back: 0,
            value: 3,
          },
        ],
      },
      relation: '=',
      by: 0,
    })
    expect(explain(compiled('seen_on < date("2026-10-01")'), exampleTable(), 0)).toMatchObject({
      left: { value: '2026-10-05' },
      right: { parts: ['2026-10-01'] },
      relation: '>',
      by: 4,
    })
    expect(explain(compiled('village = "Lowgate"'), exampleTable(), 0)).toMatchObject({
      left: { value: 'Eastfold' },
      relation: '!=',
    })
  })

  it('with a note of each division by zero', () => {
    const text = 'live_births / (measles - 3) > 2'
    const { notes } = explain(compiled(text), exampleTable(), 0)
    expect(notes).toEqual([
      { code: 'division-by-zero', at: { start: text.indexOf('measles'), end: text.indexOf('measles') + 11 } },
    ])
    expect(explain(compiled('live_births / measles > 2'), exampleTable(), 0).notes).toBeUndefined()
  })

  it('with the blanks that were in the way', () => {
    expect(blanksBehind(compiled('not_yet + live_births > previous(not_yet, 2)'), exampleTable(), 0)).toEqual(
      [
        { cell: 'not_yet', back: 0, kind: 'blank' },
        { cell: 'not_yet', back: 2, kind: 'blank' },
      ],
    )
    expect(blanksBehind(compiled('mean_of_last(measles, 13) > 1'), exampleTable(), 0).at(-1)).toEqual({
      cell: 'measles',
      back: 13,
      kind: 'noReport',
    })
    expect(blanksBehind(compiled('filled(not_yet)'), exampleTable(), 0)).toEqual([])
  })

  it('in plain words', () => {
    const text =
      'not (deliveries[u20] > 5 or measles = 0) implies classification in ("confirmed", "probable") and seen_on <= date("2026-10-31")'
    expect(inWords(compiled(text), 'en')).toBe(
      'if it is not so that (Deliveries (under 20) is more than 5, or Measles is equal to 0), then (Classification is “confirmed” or “probable”, and Seen on is not after October 31, 2026)',
    )
    expect(inWords(compiled('(live_births + 1) * 2.5 >= previous(deliveries)'), 'fr')).toBe(
      '(Naissances vivantes plus 1) fois 2,5 est au moins Accouchements de la période précédente',
    )
    expect(inWords(compiled('min(live_births, measles, 4) = 3'), 'en')).toBe(
      'the least of Live births, Measles and 4 is equal to 3',
    )
  })

  it('and say what they depend on', () => {
    expect(
      dependsOn(
        compiled(
          'deliveries[u20] > previous(mean_of_last(measles, 3), 2) and weekly_diseases.measles > count(measles_cases where age_years < 5) and seen_on < today()',
        ),
      ),
    ).toEqual({
      counted: ['age_years'],
      items: ['deliveries', 'measles', 'seen_on'],
      cells: ['deliveries.u20', 'seen_on'],
      others: { weekly_diseases: ['measles'] },
      lists: ['measles_cases'],
      lookBack: [5],
      today: true,
    })
  })
})

describe('renaming a code', () => {
  it.each<[string, Renaming, string]>([
    ['deliveries[u20]>deliveries', { what: 'item', from: 'deliveries', to: 'births' }, 'births[u20]>births'],
    [
      'measles = weekly_diseases.measles',
      { what: 'item', from: 'measles', to: 'rubeola' },
      'rubeola = weekly_diseases.measles',
    ],
    [
      'measles = weekly_diseases.measles',
      { what: 'item', source: 'weekly_diseases', from: 'measles', to: 'rubeola' },
      'measles = weekly_diseases.rubeola',
    ],
    [
      'weekly_diseases.measles > 1',
      { what: 'source', from: 'weekly_diseases', to: 'alerts' },
      'alerts.measles > 1',
    ],
    [
      'deliveries[ u20 ] > 1',
      { what: 'band', axis: 'age', from: 'u20', to: 'young' },
      'deliveries[ young ] > 1',
    ],
    ['village = "measles"', { what: 'item', from: 'measles', to: 'rubeola' }, 'village = "measles"'],
    [
      'classification = "x" and count(measles_cases where classification = "confirmed") > 1',
      { what: 'item', list: 'measles_cases', from: 'classification', to: 'class' },
      'classification = "x" and count(measles_cases where class = "confirmed") > 1',
    ],
    ['count(measles_cases) > 1', { what: 'list', from: 'measles_cases', to: 'cases' }, 'count(cases) > 1'],
  ])('%s', (text, renaming, wanted) => {
    expect(renameCode(text, renaming, vocabulary)).toBe(wanted)
  })
})

describe('completion', () => {
  const inserts = (text: string, language?: string) =>
    complete(text.replace('|', ''), text.indexOf('|'), vocabulary, language).map(({ insert }) => insert)

  it.each([
    ['del|', 'deliveries'],
    ['live_births > del| + 1', 'deliveries'],
    ['deliveries[|', 'u20'],
    ['deliveries[u20, a|', 'a20plus'],
    ['weekly_diseases.|', 'measles'],
    ['wee|', 'weekly_diseases.'],
    ['count(|', 'measles_cases'],
    ['count(measles_cases where cl|', 'classification'],
    ['live_births |', 'and'],
    ['classification = "|', '"confirmed"'],
    ['classification in ("confirmed", "pr|', '"probable"'],
    ['mea|', 'measles'],
    ['prev|', 'previous('],
  ])('of %s offers %s first', (text, first) => {
    expect(inserts(text)[0]).toBe(first)
  })

  it('finds a code by its name in the person’s language, and takes the place of what was typed', () => {
    expect(inserts('accouch|', 'fr')).toEqual(['deliveries'])
    expect(complete('1 + del', 7, vocabulary)[0]).toMatchObject({
      kind: 'item',
      replaces: { start: 4, end: 7 },
    })
    expect(inserts('count(measles_cases where age_years > 1) + live|')[0]).toBe('live_births')
    expect(inserts('nothing_like_it|')).toEqual([])
  })
})

describe('numbers', () => {
  let database: PGlite
  beforeAll(async () => {
    database = await PGlite.create()
  })
  afterAll(async () => {
    await database.close()
  })

  it('round as PostgreSQL rounds its numeric', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: -999_999, max: 999_999 }),
        fc.nat(3),
        async (thousandths, digits) => {
          const { rows } = await database.query<{ r: string }>(
            'SELECT round($1::numeric / 1000, $2::int)::text AS r',
            [thousandths, digits],
          )
          const ours = run(
            `round(${thousandths < 0 ? '0 - ' : ''}${Math.abs(thousandths)} / 1000, ${digits})`,
          )
          expect(ours).toBe(Number(rows[0]!.r))
        },
      ),
      { numRuns: 200 },
    )
  })
})

describe('numbers right, 15: small things of the language', () => {
  const problems = (text: string) => {
    const found = compile(text, vocabulary)
    return found.ok ? [] : found.problems.map(({ code, values }) => [code, values?.hint])
  }

  it.each(['AND', 'And', 'OR', 'Implies'])('“%s” is told once, with the small word that is meant', word => {
    expect(problems(`measles > 1 ${word} measles < 5`)).toEqual([
      ['expression-sign-near', word.toLowerCase()],
    ])
  })

  it('so are NOT, TRUE, IN and BETWEEN', () => {
    expect(problems('NOT open_all_month')).toEqual([['expression-sign-near', 'not']])
    expect(problems('open_all_month = TRUE')).toEqual([['expression-sign-near', 'true']])
    expect(problems('measles IN (1, 2)')).toEqual([['expression-sign-near', 'in']])
    expect(problems('measles BETWEEN 1 AND 2')).toEqual([
      ['expression-sign-near', 'between'],
      ['expression-sign-near', 'and'],
    ])
    expect(problems('village = "AND"')).toEqual([])
  })

  it.each([1e-7, 1.5e-9, 5e-324, 1e21, 1.25e22, 0.1, 12_345_678_901_234_567_890])(
    '%d is printed so that it is read again',
    number => {
      const text = print({ type: 'number', value: number, at: { start: 0, end: 0 } })
      expect(text).toMatch(/^\d+(\.\d+)?$/)
      expect(parse(scan(text).tokens).tree).toMatchObject({ type: 'number', value: number })
    },
  )

  it('“é” is one text, however it is written', () => {
    const table = { ...exampleTable(), texts: () => ['Se\u0301ro'] }
    for (const literal of ['Séro'.normalize('NFC'), 'Séro'.normalize('NFD')]) {
      expect(must(compile(`village = "${literal}"`, vocabulary)).run(table)[0]).toBe(1)
      expect(
        must(compile(`matches(village, "${literal}") and length(village) = 4`, vocabulary)).run(table)[0],
      ).toBe(1)
    }
  })

  it('an implication that another hangs on keeps its brackets in words', () => {
    const inEnglish = (text: string) => inWords(must(compile(text, vocabulary)), 'en')
    expect(inEnglish('(measles > 1 implies open_all_month) implies doses_used > 1')).toBe(
      'if (if Measles is more than 1, then Open all month), then Doses used is more than 1',
    )
    expect(inEnglish('measles > 1 implies open_all_month implies doses_used > 1')).toBe(
      'if Measles is more than 1, then if Open all month, then Doses used is more than 1',
    )
  })
})
