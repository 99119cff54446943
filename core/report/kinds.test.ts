import { PGlite } from '@electric-sql/pglite'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { EQUIPMENT } from '../../demo/quarterly/edition'
import { differences } from '../define/differences'
import { guessItem } from '../define/guess-kind'
import { becomeKind, newItem } from '../define/new-item'
import { readiness } from '../define/readiness'
import { sameCells } from '../define/same-cells'
import { compile } from '../expression/compile'
import { vocabularyOf } from '../expression/vocabulary'
import { checkCell, readItem } from '../form/check-cell'
import { contentAt } from '../form/filling'
import { beginFilling } from '../form/fill'
import { formOfEdition, livingForm } from '../form/form-of-edition'
import { parsePeriod } from '../calendar/period-text'
import { dayOf } from '../form/answer'
import { must } from '../result'
import { overUnits, rowsByAnswer } from '../rollup/roll-up'
import { runnableRules } from '../rule/compile-rules'
import { findDoubts } from '../rule/find-doubts'
import { NEEDED, rulesOf } from '../rule/item-rules'
import type { CellContent, CellValue } from './cell'
import { sameContent } from './cell'
import { cellsOf, ITEM_KINDS, itemsOf, type Edition, type Item } from './edition'
import { historyOf, reportTable, tablesOfHistory } from './period-table'
import { tableOf, type CellMap } from './table'

const itemOf = (code: string): Item => itemsOf(EQUIPMENT).find(one => one.code === code)!
const cellOf = (code: string) => cellsOf(EQUIPMENT).find(({ key }) => key === code)!
const report = (values: Record<string, CellValue>): CellMap =>
  Object.fromEntries(Object.entries(values).map(([cell, value]) => [cell, { kind: 'value', value }]))
const period = must(parsePeriod('2026-Q3'))
const doubtsOf = (values: CellMap) =>
  findDoubts(
    runnableRules(EQUIPMENT),
    cellsOf(EQUIPMENT),
    reportTable(values, period, () => undefined),
  )[0]!
const codesOf = (values: CellMap) => doubtsOf(values).map(({ code }) => code)
const edited = (change: (edition: Edition) => void): Edition => {
  const copy = JSON.parse(JSON.stringify(EQUIPMENT)) as Edition
  change(copy)
  return copy
}

describe('an edition with items of every kind', () => {
  it('has each kind, compiles with all its conditions, and lacks nothing', () => {
    expect(new Set(itemsOf(EQUIPMENT).map(({ kind }) => kind))).toEqual(new Set(ITEM_KINDS))
    expect(readiness(EQUIPMENT, 74, ['en', 'fr']).filter(({ weight }) => weight === 'must')).toEqual([])
    expect(runnableRules(EQUIPMENT)).toHaveLength(rulesOf(EQUIPMENT).length)
    expect(formOfEdition(EQUIPMENT).ok).toBe(true)
  })
  it('lacks what its kinds do not allow', () => {
    const codes = (change: (edition: Edition) => void) =>
      readiness(edited(change), 1, ['en', 'fr'], EQUIPMENT).flatMap(({ weight, code, at, problem }) =>
        weight === 'must' ? [`${at} ${problem?.code ?? code}`] : [],
      )
    const item = (edition: Edition, code: string) => itemsOf(edition).find(one => one.code === code)!
    expect(codes(edition => (item(edition, 'autoclave_works').rollUp = 'sum'))).toEqual([
      'items/autoclave_works roll-up-kind',
    ])
    expect(codes(edition => (item(edition, 'sterile_by').choices = []))).toEqual([
      'items/sterile_by form-no-choices',
    ])
    expect(codes(edition => (item(edition, 'microscopes_share').expression = 'microscopes > 1'))).toEqual([
      'items/microscopes_share item-computes-number',
    ])
    expect(codes(edition => (item(edition, 'microscopes_working').shownWhen = 'microscops > 0'))).toEqual([
      'items/microscopes_working expression-no-item-near',
    ])
    // It would tear the history: the new kind is a new item.
    expect(codes(edition => becomeKind(item(edition, 'microscopes'), 'decimal'))).toEqual([
      'items/microscopes kind-changed',
    ])
  })
  it('differs from another by kind, choices and conditions, and then asks for other cells', () => {
    const other = edited(edition => {
      const [one] = itemsOf(edition)
      becomeKind(one!, 'text')
      one!.shownWhen = 'microscopes > 0'
    })
    expect(differences(EQUIPMENT, other)).toMatchObject([
      { code: 'autoclaves', parts: ['unitOfMeasure', 'kind', 'rollUp', 'most', 'shownWhen'] },
    ])
    expect([
      sameCells(EQUIPMENT, other),
      sameCells(
        EQUIPMENT,
        edited(() => undefined),
      ),
    ]).toEqual([false, true])
  })
})

describe('a value from outside', () => {
  it.each<[string, unknown, CellValue | string]>([
    ['autoclaves', 3, 3],
    ['autoclaves', '3', 'cell-letters'],
    ['autoclaves', 201, 'answer-most'],
    ['autoclaves', -1, 'cell-negative'],
    ['autoclave_works', false, false],
    ['autoclave_works', '2026-10-05', 'answer-shape'],
    ['autoclave_works', 1, 'answer-shape'],
    ['sterile_by', 'oven', 'oven'],
    ['sterile_by', 'sun', 'answer-choice'],
    ['tests_done', ['urine', 'malaria'], ['malaria', 'urine']],
    ['tests_done', ['urine', 'blood'], 'answer-choice'],
    ['autoclave_served_on', '2026-02-29', 'day-none'],
    ['autoclave_served_on', '2026-02-28', '2026-02-28'],
    ['oldest_bought', '2019', '2019'],
    ['oldest_bought', 2019, 'answer-shape'],
    ['autoclave_why_not', 'No spare seal', 'No spare seal'],
    ['microscopes_share', 50, 'answer-computed'],
  ])('for %s: %j gives %j', (code, value, wanted) => {
    const checked = checkCell(itemOf(code), value)
    if (checked.ok) expect(checked.value).toEqual({ kind: 'value', value: wanted })
    else expect(checked.problems[0]!.code).toBe(wanted)
  })
  it('of ten thousand letters is longer than anybody writes', () => {
    const checked = checkCell(itemOf('autoclave_why_not'), 'x'.repeat(10_000))
    expect(checked).toMatchObject({
      ok: false,
      problems: [{ code: 'answer-text-long', values: { most: 200 } }],
    })
  })
  it.each<[string, string, CellValue | string | null]>([
    ['autoclave_works', 'Oui', true],
    ['autoclave_works', ' no ', false],
    ['autoclave_works', '2026-10-05', 'answer-not-yes-no'],
    ['sterile_by', 'In a dry oven', 'oven'],
    ['sterile_by', 'à l’eau bouillante', 'boiling'],
    ['tests_done', 'urine strip; malaria', ['malaria', 'urine']],
    ['autoclaves', '12', 12],
    ['autoclaves', '', null],
    ['microscopes_share', '50', 'answer-computed'],
  ])('pasted into %s: %j gives %j', (code, text, wanted) => {
    const read = readItem(itemOf(code), text, 'en')
    if (read.ok)
      expect(read.value).toEqual(wanted === null ? { kind: 'blank' } : { kind: 'value', value: wanted })
    else expect(read.problems[0]!.code).toBe(wanted)
  })
  it('is the same as another only when it says the same', () => {
    const several = (...codes: string[]): CellContent => ({ kind: 'value', value: codes })
    expect(sameContent(several('a', 'b'), several('a', 'b'))).toBe(true)
    expect(sameContent(several('a', 'b'), several('a'))).toBe(false)
    expect(sameContent({ kind: 'value', value: true }, { kind: 'value', value: 1 })).toBe(false)
  })
})

describe('conditions', () => {
  const form = livingForm(EQUIPMENT)!
  it('ask what applies, and compute while it is typed', () => {
    const { filling } = beginFilling(form, report({ autoclaves: 0, microscopes: 4, microscopes_working: 3 }))
    expect([...filling.hidden].sort()).toEqual([
      'autoclave_served_on',
      'autoclave_why_not',
      'autoclave_works',
      'concentrators_working',
      'oldest_bought',
      'oxygen_purity',
    ])
    expect(contentAt(filling, 'microscopes_share')).toEqual({ kind: 'value', value: 75 })
  })
  it('are judged as rules: needed, accepted, and answered although it does not apply', () => {
    const asked = codesOf(report({ autoclaves: 1, autoclave_works: false, microscopes: 0, concentrators: 0 }))
    expect(asked).toEqual([`${NEEDED}autoclave_why_not`])
    expect(codesOf({})).toEqual(['autoclaves', 'microscopes', 'concentrators'].map(code => NEEDED + code))
    const known: CellMap = {
      ...report({ autoclaves: 0, microscopes: 0, concentrators: 0 }),
      autoclave_works: { kind: 'value', value: true },
    }
    expect(codesOf(known)).toEqual(['applies.autoclave_works'])
    // *Not known* with a reason is an answer: nobody is made to lie.
    expect(
      codesOf({
        ...known,
        autoclave_works: { kind: 'blank' },
        autoclaves: { kind: 'notKnown', reason: 'away' },
      }),
    ).toEqual([])
    // What is not offered, or not known, of what does not apply is nobody's mistake.
    for (const kind of [{ kind: 'notOffered' }, { kind: 'notKnown', reason: 'away' }] as const)
      expect(codesOf({ ...known, autoclave_works: kind })).toEqual([])
    const accepted = edited(edition => {
      itemsOf(edition)[0]!.acceptedIf = [
        { expression: 'autoclaves <= 9', message: { en: 'Nine.', fr: 'Neuf.' } },
      ]
    })
    const [found] = findDoubts(
      runnableRules(accepted),
      cellsOf(accepted),
      reportTable(
        report({ autoclaves: 10, autoclave_works: true, microscopes: 0, concentrators: 0 }),
        period,
        () => undefined,
      ),
    )[0]!
    expect(found).toMatchObject({ code: 'accepted1.autoclaves', strength: 'mustFix', cells: ['autoclaves'] })
  })
  it('and rules read choices, truths and days', () => {
    const fine = report({ autoclaves: 2, autoclave_works: true, microscopes: 1, concentrators: 0 })
    expect(
      codesOf({
        ...fine,
        ...report({ autoclave_works: false, autoclave_why_not: 'lid', sterile_by: 'autoclave' }),
      }),
    ).toEqual(['autoclave_to_sterilise'])
    expect(codesOf({ ...fine, ...report({ tests_done: ['malaria'], microscopes_working: 0 }) })).toEqual([
      'malaria_needs_a_microscope',
    ])
    expect(codesOf({ ...fine, ...report({ autoclave_served_on: '2026-10-01' }) })).toEqual([
      'served_before_the_end',
    ])
    const [doubt] = doubtsOf({
      ...fine,
      ...report({ autoclave_works: false, autoclave_why_not: 'lid', sterile_by: 'autoclave' }),
    })
    expect(doubt!.explanation!.left.parts).toContainEqual(
      expect.objectContaining({ item: 'autoclave_works', value: false }),
    )
  })
})

describe('a history', () => {
  it('carries every kind, and gives expressions what the reports gave', () => {
    const reports = [
      report({
        autoclave_works: true,
        sterile_by: 'oven',
        tests_done: ['urine'],
        autoclave_served_on: '2026-01-31',
        autoclaves: 2,
      }),
      null,
      {
        autoclave_works: { kind: 'notKnown' as const, reason: 'away' },
        ...report({ sterile_by: 'boiling' }),
      },
    ]
    const cells = cellsOf(EQUIPMENT).map(({ key }) => key)
    const history = historyOf(['2026-Q2', '2026-Q1', '2025-Q4'], reports, cells)
    // As it travels and lies on a device.
    const tables = tablesOfHistory(JSON.parse(JSON.stringify(history)) as typeof history)
    reports.forEach((one, at) => {
      const table = tables(must(parsePeriod(history.periods[at]!)))!
      const whole = tableOf([one])
      for (const cell of cells) {
        expect([...table.numbers(cell)], cell).toEqual([...whole.numbers(cell)])
        expect([...table.kinds(cell)], cell).toEqual([...whole.kinds(cell)])
        expect([table.texts!(cell), table.answers!(cell)], cell).toEqual([
          whole.texts!(cell),
          whole.answers!(cell),
        ])
      }
    })
    const rule = must(
      compile(
        'previous(sterile_by) = "oven" and previous(autoclave_works)',
        vocabularyOf(EQUIPMENT),
        'truth',
      ),
    )
    expect([...rule.run(reportTable({}, period, tables))]).toEqual([1])
  })
})

describe('rolled up', () => {
  let database: PGlite
  beforeAll(async () => {
    database = await PGlite.create()
  })
  afterAll(() => database.close())
  const works = cellOf('autoclave_works')
  const choice = cellOf('sterile_by')
  const tests = cellOf('tests_done')
  const served = cellOf('autoclave_served_on')

  it('is what PostgreSQL counts: truths, choices, several of them, the share and the latest day', async () => {
    const codes = choice.item.choices!.map(({ code }) => code)
    const many = tests.item.choices!.map(({ code }) => code)
    const one = fc.record({
      truth: fc.option(fc.boolean()),
      code: fc.option(fc.constantFrom(...codes)),
      codes: fc.option(fc.subarray(many, { minLength: 1 })),
      day: fc.option(
        fc.integer({ min: 1, max: 28 }).map(day => `2026-0${(day % 9) + 1}-${String(day).padStart(2, '0')}`),
      ),
    })
    await fc.assert(
      fc.asyncProperty(fc.array(one, { maxLength: 20 }), async rows => {
        const content = (value: CellValue | null): CellContent =>
          value === null ? { kind: 'blank' } : { kind: 'value', value }
        const table = tableOf(
          rows.map(row => ({
            autoclave_works: content(row.truth),
            sterile_by: content(row.code),
            tests_done: content(row.codes),
            autoclave_served_on: content(row.day),
          })),
        )
        const { rows: counted } = await database.query<{ code: string; count: number }>(
          `WITH given AS (SELECT * FROM jsonb_to_recordset($1) AS g (truth boolean, code text, codes text[], day date))
           SELECT CASE WHEN truth THEN 'yes' ELSE 'no' END AS code, count(*)::int AS count FROM given WHERE truth IS NOT NULL GROUP BY 1
           UNION ALL SELECT code, count(*)::int FROM given WHERE code IS NOT NULL GROUP BY 1
           UNION ALL SELECT one, count(*)::int FROM given, unnest(codes) AS one GROUP BY 1`,
          [JSON.stringify(rows)],
        )
        const ours = [works, choice, tests]
          .flatMap(cell => rowsByAnswer(table, cell))
          .flatMap(({ code, rows: those }) => (those.length ? [[code, those.length] as const] : []))
        expect(new Map(ours)).toEqual(new Map(counted.map(({ code, count }) => [code, count])))
        const { rows: whole } = await database.query<{ share: number | null; latest: string | null }>(
          `SELECT avg(truth::int)::float8 AS share, max(day)::text AS latest FROM jsonb_to_recordset($1) AS g (truth boolean, day date)`,
          [JSON.stringify(rows)],
        )
        const share = overUnits(table, [works.key], 'share').value
        if (share === null) expect(whole[0]!.share).toBeNull()
        else expect(share).toBeCloseTo(whole[0]!.share!, 12)
        expect(overUnits(table, [served.key], 'latest').value).toBe(
          whole[0]!.latest === null ? null : dayOf(whole[0]!.latest),
        )
      }),
      { numRuns: 40 },
    )
  })
  it('keeps an answer that left the list in a newer edition, by its code', () => {
    const table = tableOf([report({ sterile_by: 'flame' }), report({ sterile_by: 'oven' }), null])
    expect(rowsByAnswer(table, choice)).toContainEqual({ code: 'flame', label: { en: 'flame' }, rows: [0] })
    const said = tableOf([
      report({ autoclave_why_not: 'No fuse.' }),
      null,
      report({ autoclave_why_not: 'No fuse.' }),
    ])
    expect(rowsByAnswer(said, cellOf('autoclave_why_not'))).toEqual([
      { code: 'No fuse.', label: { en: 'No fuse.' }, rows: [0, 2] },
    ])
    expect(rowsByAnswer(said, served)).toEqual([])
    expect(overUnits(table, ['sterile_by'], 'counts')).toEqual({ value: null, reportsIn: 2 })
  })
})

describe('a pasted line', () => {
  it.each([
    ['Number of autoclaves', 'wholeNumber'],
    ['Is there an autoclave that works? (yes / no)', 'yesNo'],
    ['Date of the last service', 'date'],
    ['Sterilised by: 1 = autoclave, 2 = oven', 'oneOf'],
    ['Deliveries', 'wholeNumber'],
    ['Photograph of the fridge', 'wholeNumber'],
  ])('%s becomes %s', (line, kind) => {
    expect(guessItem(line, 'en').kind).toBe(kind)
  })
  it('becomes an item with all that its kind needs, and of another kind with what that one needs', () => {
    for (const kind of ITEM_KINDS) {
      const item = newItem('one', 'en', 'One', kind)
      expect(item).toMatchObject({ kind, name: { en: 'One' } })
      for (const other of ITEM_KINDS) {
        const copy = { ...item }
        becomeKind(copy, other)
        becomeKind(copy, kind)
        expect(Object.keys(copy).sort(), `${kind} ${other}`).toEqual(Object.keys(item).sort())
      }
    }
  })
})
