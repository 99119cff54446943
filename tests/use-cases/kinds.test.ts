import '../support/use-memory'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { EQUIPMENT } from '../../demo/quarterly/edition'
import { becomeKind } from '#core/define/new-item'
import { itemsOf, type Edition } from '#core/report/edition'
import { closeDatabase, type Database } from '../../server/database'
import { settle } from '../../server/discrepancies/act'
import { listDiscrepancies } from '../../server/discrepancies/list'
import { discrepancyFile } from '../../server/discrepancies/read'
import { districtCsv } from '../../server/district-reports/csv'
import { districtReport, signDistrict } from '../../server/district-reports/district-report'
import { verifySignatures } from '../../server/district-reports/signatures'
import { board } from '../../server/overview/board'
import { draftFile, saveDraft, publishDraft } from '../../server/publishing/dataset-drafts'
import { cellStory } from '../../server/reports/cell-story'
import { reportFile } from '../../server/reports/file'
import { pastOf } from '../../server/reports/past'
import { verify } from '../../server/verification/verify'
import { fillReport, sendReport } from '../support/facility'
import { addDataset, makeInstallation, personOf } from '../support/installation'

const ROUND = 'equipment~2026-Q3'
const officer = personOf('officer', 'north')
const admin = personOf('administrator', null)
const clerkOf = (unit: string) => personOf('clerk', unit)

let sql: Database
beforeAll(async () => {
  sql = await makeInstallation()
  await sql.transaction(tx => addDataset(tx, EQUIPMENT, '2026-01-01'))
})
afterAll(closeDatabase)

const GOOD = {
  autoclaves: 2,
  autoclave_works: true,
  autoclave_served_on: '2026-06-30',
  sterile_by: 'autoclave',
  microscopes: 4,
  microscopes_working: 3,
  tests_done: ['malaria', 'urine'],
  concentrators: 0,
  power_backup: true,
}
const contentsOf = async (unit: string) =>
  Object.fromEntries(
    (await reportFile(officer, ROUND, unit)).cells.map(({ cell, content }) => [
      cell,
      content.kind === 'value' ? content.value : content.kind,
    ]),
  )

describe('a report with answers of every kind', () => {
  it('is kept as it was answered, one row a cell, and what is computed is computed by the district', async () => {
    await fillReport(clerkOf('elm'), ROUND, 'elm', GOOD)
    expect(await contentsOf('elm')).toEqual({ ...GOOD, microscopes_share: 75 })
    // Typed columns, so that SQL can count them.
    const [kept] = await sql.query(
      `SELECT count(*) FILTER (WHERE truth)::int AS yes, max(text::date) FILTER (WHERE cell = 'autoclave_served_on')::text AS day,
         sum(value) FILTER (WHERE cell = 'microscopes') AS number, max(cardinality(codes)) AS codes, count(*) FILTER (WHERE computed)::int AS computed
       FROM cell_value v JOIN report p ON p.id = v.report WHERE p.round = $1`,
      [ROUND],
    )
    expect(kept).toEqual({ yes: 2, day: '2026-06-30', number: 4, codes: 2, computed: 1 })
  })

  it('counts only what is asked: not what does not apply, nor what is computed', async () => {
    const row = (await board(officer, ROUND)).rows.find(({ unit }) => unit.code === 'elm')!
    // 14 items, one of them computed; four do not apply without concentrators and with a working autoclave.
    expect(row.filled).toBeCloseTo(9 / 9, 9)
    await fillReport(clerkOf('elm'), ROUND, 'elm', { concentrators: { value: 1, base: 1 } })
    const then = (await board(officer, ROUND)).rows.find(({ unit }) => unit.code === 'elm')!
    expect(then.filled).toBeCloseTo(9 / 11, 9)
    await fillReport(clerkOf('elm'), ROUND, 'elm', { concentrators: { value: 0, base: 2 } })
  })

  it('refuses what the item does not take, and a value for what is computed; the rest goes on', async () => {
    const refused = (cell: string, value: never) =>
      fillReport(clerkOf('oak'), ROUND, 'oak', { [cell]: value }).then(
        () => 'taken',
        (error: { code: string }) => error.code,
      )
    expect(await refused('microscopes_share', 10 as never)).toBe('answer-computed')
    expect(await refused('autoclave_works', '2026-10-05' as never)).toBe('answer-shape')
    expect(await refused('sterile_by', 'sun' as never)).toBe('answer-choice')
    expect(await refused('autoclaves', true as never)).toBe('cell-letters')
    expect(await refused('autoclave_why_not', 'x'.repeat(1_500) as never)).toBe('answer-text-long')
  })

  it('is not sent without what is needed, unless the facility says why', async () => {
    await fillReport(clerkOf('oak'), ROUND, 'oak', {
      autoclaves: { value: 1, base: 0 },
      autoclave_works: false,
      microscopes: 0,
      concentrators: 0,
      sterile_by: 'boiling',
    })
    await expect(sendReport(clerkOf('oak'), ROUND, 'oak')).rejects.toMatchObject({ code: 'must-fix' })
    await fillReport(clerkOf('oak'), ROUND, 'oak', { autoclave_why_not: 'The seal is torn.' })
    await sendReport(clerkOf('oak'), ROUND, 'oak')
    await sendReport(clerkOf('elm'), ROUND, 'elm')
    expect((await listDiscrepancies(officer, { round: ROUND })).lines).toEqual([])
  })

  it('that is corrected so that an answer no longer applies raises a doubt: nothing disappears', async () => {
    await fillReport(
      clerkOf('oak'),
      ROUND,
      'oak',
      { autoclave_works: { value: true, base: 1 } },
      { why: 'It was mended.' },
    )
    const { lines } = await listDiscrepancies(officer, { round: ROUND })
    expect(lines.map(({ title }) => title.en)).toEqual(['Does not apply: Why none works'])
    const file = await discrepancyFile(officer, lines[0]!.id)
    const why = file.cells.find(({ cell }) => cell === 'autoclave_why_not')!
    expect([why.item.kind, why.content]).toEqual(['text', { kind: 'value', value: 'The seal is torn.' }])
    await settle(officer, lines[0]!.id, 'corrected', 'It works again.', [
      { cell: 'autoclave_why_not', base: why.version, content: { kind: 'blank' } },
    ])
    expect(await contentsOf('oak')).toMatchObject({ autoclave_why_not: 'blank', autoclave_works: true })
    const { events } = await cellStory(officer, ROUND, 'oak', 'autoclave_why_not')
    expect(events.map(event => event.new)).toContainEqual({ kind: 'value', value: 'The seal is torn.' })
  })

  it('is history for the next: what was chosen, and when', async () => {
    const past = await pastOf(admin, 'equipment', {
      cells: ['sterile_by', 'autoclave_works', 'microscopes'],
      rounds: 2,
      lookBack: [1],
    })
    const at = (cell: string) => past.values?.[cell]?.filter(value => value !== null)
    expect([at('sterile_by'), at('autoclave_works')]).toEqual([
      expect.arrayContaining(['autoclave', 'boiling']),
      [true, true],
    ])
    expect(past.numbers.microscopes!.filter(value => value !== null).sort()).toEqual([0, 4])
  })
})

describe('the district', () => {
  it('reports how many gave each answer and who they are, the share and the latest day; signed, it stays', async () => {
    const report = await districtReport(officer, ROUND, { unit: 'north' })
    const line = (code: string) =>
      report.figures.sections.flatMap(({ lines }) => lines).find(({ item }) => item === code)!
    const answers = (code: string) =>
      line(code).answers!.flatMap(({ code: answer, units }) =>
        units.length ? [`${answer}: ${units.map(unit => unit.name).join(', ')}`] : [],
      )
    expect(answers('autoclave_works')).toEqual(['yes: elm, oak'])
    expect(answers('sterile_by')).toEqual(['autoclave: elm', 'boiling: oak'])
    expect(line('autoclave_why_not')).toMatchObject({ value: null, rollUp: 'none', answers: [] })
    expect(answers('tests_done')).toEqual(['malaria: elm', 'urine: elm'])
    expect(line('power_backup')).toMatchObject({ value: 1, reportsIn: 1, rollUp: 'share' })
    expect(line('autoclave_served_on')).toMatchObject({ value: 20_634, reportsIn: 1, compared: null })
    expect(line('autoclaves')).toMatchObject({ value: 3, reportsIn: 2 })
    const csv = districtCsv(report, 'en')
    expect(csv).toContain('sterile_by=boiling')
    expect(csv).toContain('2026-06-30')
    expect(report.figures.indicators[0]).toMatchObject({ numerator: 3, denominator: 4, value: 75 })
    await signDistrict(officer, ROUND, report.toSign, 'north')
    expect(await verifySignatures()).toBe(0)
    await fillReport(
      clerkOf('oak'),
      ROUND,
      'oak',
      { sterile_by: { value: 'autoclave', base: 1 } },
      { why: 'It is used again.' },
    )
    const changed = (await districtReport(officer, ROUND, { unit: 'north' })).changedSince
    expect(changed).toEqual([
      expect.objectContaining({ cell: 'sterile_by', signed: 'boiling', now: 'autoclave' }),
    ])
  })

  it('has kept what it would compute', async () => {
    expect(await verify()).toEqual([])
  })
})

describe('the next edition', () => {
  it('may not make another kind of an item: that is a new item, and the old one keeps its history', async () => {
    const { draft, reports, version } = await draftFile(admin, 'equipment')
    const change = (edition: Edition, work: (edition: Edition) => void) => {
      const copy = JSON.parse(JSON.stringify(edition)) as Edition
      work(copy)
      return copy
    }
    const torn = change(draft, copy =>
      becomeKind(
        itemsOf(copy).find(({ code }) => code === 'power_backup')!,
        'text',
      ),
    )
    const saved = await saveDraft(admin, 'equipment', { version, draft: torn, reports })
    expect(saved.lacks.filter(({ weight }) => weight === 'must').map(({ code }) => code)).toEqual([
      'kind-changed',
    ])
    await expect(publishDraft(admin, 'equipment', saved.version)).rejects.toMatchObject({
      code: 'draft-not-ready',
    })
    const left = change(draft, copy => {
      const item = itemsOf(copy).find(({ code }) => code === 'sterile_by')!
      item.choices = item.choices!.filter(({ code }) => code !== 'boiling')
    })
    const again = await saveDraft(admin, 'equipment', { version: saved.version, draft: left, reports })
    expect(await publishDraft(admin, 'equipment', again.version)).toBe(2)
    // A choice that left the list: what was answered stands, and a new answer is not among the choices.
    await expect(fillReport(clerkOf('ash'), ROUND, 'ash', { sterile_by: 'boiling' })).rejects.toMatchObject({
      code: 'answer-choice',
    })
  })
})
