import '../support/use-memory'
import { PassThrough } from 'node:stream'
import { buffer } from 'node:stream/consumers'
import ExcelJS from 'exceljs'
import readExcel, { readSheet } from 'read-excel-file/node'
import { ZipFile } from 'yazl'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import type { ReportFileView } from '#core/contract/report-files'
import { closeDatabase, type Database } from '../../server/database'
import { applyReportFile, forgetOldFiles, stopReportFile, undoReportFile } from '../../server/files/ask'
import { listReportFiles, reportFileView } from '../../server/files/list'
import { previewReportFile } from '../../server/files/plan'
import { importReports } from '../../server/files/import-reports'
import { reportTemplate } from '../../server/files/template'
import { UNWATCHED } from '../../server/queue/turn'
import { acceptReport } from '../../server/reporting/review'
import { cellStory } from '../../server/reports/cell-story'
import { reportFile } from '../../server/reports/file'
import { board } from '../../server/overview/board'
import { fillReport, sendReport } from '../support/facility'
import { hasLibreOffice, OFFICE_MS, typeInLibreOffice } from '../support/libreoffice'
import { addDataset, makeInstallation, OCTOBER, personOf, SMALL } from '../support/installation'

const officer = personOf('officer', 'north')
const admin = personOf('administrator', null)
const WHY = 'The workbook of November, by mail'
let sql: Database

beforeAll(async () => {
  sql = await makeInstallation({ yew: [{ from: '2020-01-01', to: '2026-08-15', parent: 'mill' }] })
  const words = (en: string) => ({ en, fr: `${en} (fr)` })
  const one = {
    unitOfMeasure: '',
    rollUp: 'none' as const,
    range: null,
    axes: [],
    definition: words('To say'),
  }
  await sql.transaction(tx =>
    addDataset(
      tx,
      {
        ...SMALL,
        dataset: 'kinds',
        name: words('Kinds'),
        axes: [],
        rules: [],
        sections: [
          {
            code: 'all',
            name: words('All'),
            items: [
              { ...one, code: 'works', name: words('Works'), kind: 'yesNo' },
              {
                ...{ ...one, code: 'fridge', name: words('Fridge'), kind: 'oneOf' },
                choices: [
                  { code: 'none', label: words('none') },
                  { code: 'gas', label: words('by gas, or "both"') },
                ],
              },
              { ...one, code: 'served', name: words('Last service'), kind: 'date' },
              { ...one, code: 'litres', name: words('Litres'), kind: 'decimal', unitOfMeasure: 'l' },
              { ...one, code: 'remark', name: words('Remark'), kind: 'text' },
            ],
          },
        ],
      },
      '2026-01-01',
    ),
  )
})
afterAll(closeDatabase)
beforeEach(() => emptyReports())

async function emptyReports(): Promise<void> {
  await sql.query('DELETE FROM report_file')
  for (const table of ['received_change', 'known_change', 'cell_event', 'cell_value', 'discrepancy_event'])
    await sql.query(`DELETE FROM ${table}`)
  for (const table of ['discrepancy', 'report_event', 'report']) await sql.query(`DELETE FROM ${table}`)
}

type Rows = (string | number | boolean | Date | null | object)[][]
const given = (bytes: Buffer, name: string) => ({ name, base64: bytes.toString('base64') })
const csv = (text: string) => given(Buffer.from(text), 'october.csv')
async function xlsx(
  rows: Rows,
  change: (sheet: ExcelJS.Worksheet, book: ExcelJS.Workbook) => void = () => undefined,
) {
  const book = new ExcelJS.Workbook()
  const sheet = book.addWorksheet('Reports')
  sheet.addRows(rows)
  change(sheet, book)
  return given(Buffer.from(await book.xlsx.writeBuffer()), 'october.xlsx')
}
const look = (file: { name: string; base64: string }, access = officer, dataset = 'small') =>
  previewReportFile(access, { dataset, round: `${dataset}~2026-10`, language: 'en', ...file })
const run = () => importReports(UNWATCHED)
async function takeIn(view: ReportFileView, access = officer): Promise<ReportFileView> {
  await applyReportFile(access, view.line.id, WHY)
  await run()
  return reportFileView(access, view.line.id)
}
const refusals = ({ notes }: ReportFileView) =>
  notes.refused.map(({ row, column, code }) => [`${column}${row}`, code])
const cellsAt = async (unit: string, round = OCTOBER) =>
  Object.fromEntries((await reportFile(admin, round, unit)).cells.map(({ cell, content }) => [cell, content]))
const stateAt = async (unit: string) => (await reportFile(admin, OCTOBER, unit)).state

const HEAD = ['unit', 'period', 'tested', 'positive', 'seen.f', 'seen.m']
const value = (of: unknown) => ({ kind: 'value', value: of })
/** A report of the dataset `kinds`, as it is kept. */
const OF_EVERY_KIND = {
  works: value(true),
  fridge: value('gas'),
  served: value('2026-09-03'),
  litres: value(12.5),
  remark: value('=good'),
}

describe('looking at a file', () => {
  it('matches units by code and name, items by key and name, periods as they are written or by a day of them', async () => {
    const view = await look(
      await xlsx([
        ['Facility', 'Period', 'TESTED', 'positive', 'seen, female', 'Seen, Male', 'Weather'],
        ['Elm', '2026-10', 10, 3, 4, '5', 'rain'],
        ['oak', new Date('2026-10-01T00:00:00Z'), 7, null, 0, null, null],
        [null, null, null, null, null, null, null],
      ]),
    )
    expect(view.line).toMatchObject({ state: 'ready', counts: { reports: 2, changes: 6, refused: 0 } })
    expect(
      view.parts.map(({ unit, round, row, changes, report }) => [
        unit.code,
        round.period,
        row,
        changes,
        report,
      ]),
    ).toEqual([
      ['elm', '2026-10', 2, 4, 'awaited'],
      ['oak', '2026-10', 3, 2, 'awaited'],
    ])
    expect(view.notes).toMatchObject({ refusedCount: 0, passedOver: ['Weather'] })
    expect((await board(officer, OCTOBER)).rows.map(({ state }) => state)).toEqual(['awaited', 'awaited'])
  })

  it('refuses each thing at its place and takes the rest', async () => {
    const view = await look(
      csv(
        [
          HEAD.join(';'),
          'elm;2026-10;ten;3;4;5',
          'oak;2026-10;-1;2,5;4;5',
          'oak;2026-10;1;1;1;1',
          'ash;2026-10;1;1;1;1',
          'pine;2026-10;1;1;1;1',
          'elm;2026-13;1;1;1;1',
          'elm;2026-W40;1;1;1;1',
          'elm;2030-01;1;1;1;1',
          ';2026-10;1;1;1;1',
        ].join('\r\n'),
      ),
    )
    expect(refusals(view).sort()).toEqual(
      [
        ['C2', 'cell-letters'],
        ['C3', 'cell-negative'],
        ['D3', 'cell-decimals'],
        ['4', 'file-row-twice'],
        ['5', 'file-unit-none'],
        ['6', 'file-unit-none'],
        ['7', 'period-month'],
        ['8', 'period-frequency'],
        ['9', 'file-round-none'],
        ['A10', 'sheet-no-unit'],
      ].sort(),
    )
    expect(view.parts.map(({ unit, changes }) => [unit.code, changes])).toEqual([
      ['elm', 3],
      ['oak', 2],
    ])
  })

  it('refuses a facility that was not open, a round that has closed, and a name that two have', async () => {
    await sql.query(`UPDATE unit_latest SET name = 'Elm' WHERE code = 'oak'`)
    const view = await look(
      csv(`${HEAD.join(',')}\nyew,2026-10,1,1,1,1\nElm,2026-10,1,1,1,1\nash,2026-07,1,1,1,1`),
      admin,
    )
    await sql.query(`UPDATE unit_latest SET name = 'oak' WHERE code = 'oak'`)
    expect(refusals(view)).toEqual([
      ['3', 'file-unit-two'],
      ['2', 'file-not-expected'],
      ['4', 'round-closed'],
    ])
    expect(view.notes.refused[0]!.values).toEqual({ text: 'Elm', codes: 'elm, oak' })
  })

  it('leaves out what stands there already, and *not known* needs its reason', async () => {
    await fillReport(personOf('clerk', 'elm'), OCTOBER, 'elm', { tested: 10, positive: 3 })
    const view = await look(
      csv(`${HEAD.join(',')}\nelm,2026-10,10,3,,\noak,2026-10,? the book is lost,?,1,1`),
    )
    expect(view.notes).toMatchObject({ same: 1 })
    expect(refusals(view)).toEqual([['D3', 'cell-letters']])
    await takeIn(view)
    expect((await cellsAt('oak')).tested).toEqual({ kind: 'notKnown', reason: 'the book is lost' })
  })

  it('merged places, formulas, errors, dates and times each say what they are', async () => {
    const view = await look(
      await xlsx(
        [
          HEAD,
          [
            'elm',
            '2026-10',
            { formula: '4+6', result: 10 },
            { formula: '1/0', result: { error: '#DIV/0!' } },
            new Date('2026-10-05'),
            4,
          ],
          ['oak', '2026-10', 5, null, { formula: 'B9' }, 2],
        ],
        sheet => sheet.mergeCells('C3:D3'),
      ),
    )
    expect(refusals(view)).toEqual([
      ['D2', 'sheet-error'],
      ['E2', 'sheet-date'],
      ['D3', 'sheet-merged'],
      ['E3', 'sheet-formula'],
    ])
    expect(view.notes.formulas).toBe(3)
    expect(view.parts.map(({ changes }) => changes)).toEqual([2, 2])
  })

  it('does not read what nobody sees, and names sheets that are no table of reports', async () => {
    const view = await look(
      await xlsx([HEAD, ['elm', '2026-10', 1, 1, 1, 1]], (_, book) => {
        book.addWorksheet('Old', { state: 'hidden' }).addRows([HEAD, ['oak', '2026-10', 1, 1, 1, 1]])
        book.addWorksheet('Notes').addRow(['Written by hand'])
      }),
    )
    expect(view.notes).toMatchObject({ hidden: ['Old'], passedOver: ['Notes'] })
    expect(view.parts.map(({ unit }) => unit.code)).toEqual(['elm'])
  })

  it('is of the own branch only: another district’s facility is not found, and its file not seen', async () => {
    const view = await look(csv(`${HEAD.join(',')}\nash,2026-10,1,1,1,1`))
    expect(refusals(view)).toEqual([['2', 'file-unit-none']])
    const south = personOf('officer', 'south')
    await expect(reportFileView(south, view.line.id)).rejects.toMatchObject({ status: 403 })
    await expect(applyReportFile(south, view.line.id, WHY)).rejects.toMatchObject({ status: 403 })
    expect((await listReportFiles(south, {})).lines).toEqual([])
    expect((await listReportFiles(admin, {})).lines).toHaveLength(1)
  })
})

/** A zip of files, each said to be as large as it is. */
async function zipOf(files: Record<string, Buffer>): Promise<Buffer> {
  const zip = new ZipFile()
  for (const [name, bytes] of Object.entries(files)) zip.addBuffer(bytes, name)
  zip.end()
  return buffer(zip.outputStream.pipe(new PassThrough()))
}

describe('a file that is none', () => {
  it.each([
    ['an old or locked workbook', Buffer.from('d0cf11e0a1b11ae1aaaa', 'hex'), 'file-locked'],
    ['half of a zip', Buffer.from('504b0304aaaaaaaa', 'hex'), 'file-broken'],
    ['a picture', Buffer.from('89504e470d0a1a0a', 'hex'), 'sheet-head'],
    ['text without headings', Buffer.from('hello\nworld'), 'sheet-head'],
    ['no facility', Buffer.from('period,tested\n2026-10,1'), 'sheet-unit'],
  ])('%s: %s', async (_, bytes, code) => {
    await expect(look(given(bytes, 'x.xlsx'))).rejects.toMatchObject({ status: 422, code })
  })

  it('a zip that holds no workbook, and one that swells', async () => {
    const other = await zipOf({ 'a.txt': Buffer.from('a') })
    await expect(look(given(other, 'a.xlsx'))).rejects.toMatchObject({ status: 422 })
    const bomb = await zipOf({ 'xl/worksheets/sheet1.xml': Buffer.alloc(70_000_000) })
    expect(bomb.length).toBeLessThan(200_000)
    await expect(look(given(bomb, 'b.xlsx'))).rejects.toMatchObject({ code: 'file-unpacked' })
    // The same, and it says that it is small: the size in the directory at the end of the file.
    const liar = Buffer.from(bomb)
    const at = liar.lastIndexOf(Buffer.from('504b0102', 'hex'))
    liar.writeUInt32LE(1_000, at + 24)
    await expect(look(given(liar, 'c.xlsx'))).rejects.toMatchObject({ code: 'file-broken' })
  })

  it('a hundred thousand rows', async () => {
    const rows = Array.from({ length: 100_000 }, () => 'elm,2026-10,1').join('\n')
    await expect(look(csv(`unit,period,tested\n${rows}`))).rejects.toMatchObject({ code: 'file-rows' })
  })
})

describe('taking a file in', () => {
  const FILE = csv(`${HEAD.join(',')}\nelm,2026-10,10,3,4,5\noak,2026-10,2,8,200,1`)

  it('sends each report, in the name of the person, with what the office says of its doubts', async () => {
    const done = await takeIn(await look(FILE))
    expect(done.line).toMatchObject({ state: 'applied', counts: { done: 2, refused: 0 } })
    expect(await stateAt('elm')).toBe('sent')
    expect(await cellsAt('elm')).toMatchObject({ tested: value(10), 'seen.m': value(5) })
    const { discrepancies } = await reportFile(officer, OCTOBER, 'oak')
    expect(discrepancies.map(({ code, strength }) => [code, strength]).sort()).toEqual([
      ['many', 'explain'],
      ['within', 'mustFix'],
    ])
    expect(await sql.query(`SELECT DISTINCT text FROM discrepancy_event WHERE act = 'explained'`)).toEqual([
      { text: WHY },
    ])
    const { events } = await cellStory(officer, OCTOBER, 'elm', 'tested')
    expect(events).toMatchObject([{ origin: 'file', why: WHY, by: 'The officer' }])
  })

  it('is done once, whoever asks twice, and by two processes as well', async () => {
    const { line } = await look(FILE)
    const both = await Promise.allSettled([
      applyReportFile(officer, line.id, WHY),
      applyReportFile(officer, line.id, WHY),
    ])
    expect(both.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected'])
    await Promise.all([run(), run()])
    await run()
    expect(await sql.query('SELECT count(*)::int AS count FROM cell_event')).toEqual([{ count: 8 }])
    expect((await reportFileView(officer, line.id)).line.counts).toMatchObject({ done: 2 })
    await expect(applyReportFile(officer, line.id, WHY)).rejects.toMatchObject({ code: 'file-state' })
  })

  it('a report that somebody changed since is refused whole; the others are taken', async () => {
    const view = await look(FILE)
    await fillReport(personOf('clerk', 'elm'), OCTOBER, 'elm', { tested: 11 })
    const done = await takeIn(view)
    expect(done.line.counts).toMatchObject({ done: 1, refused: 1 })
    expect(done.parts[0]).toMatchObject({ unit: { code: 'elm' }, state: 'refused', problem: 'file-changed' })
    expect(await cellsAt('elm')).toEqual({ tested: value(11) })
    expect(await sql.query('SELECT 1 FROM field_conflict')).toEqual([])
    expect(await stateAt('oak')).toBe('sent')
  })

  it('judges each report by those of the rounds before it, whatever the order of the rows', async () => {
    const months = ['2026-10', '2026-08', '2026-09']
    const closeLater = (by: string) =>
      sql.query(`UPDATE round SET closes_at = closes_at + $2::interval WHERE id = ANY($1::text[])`, [
        months.map(month => `small~${month}`),
        by,
      ])
    await closeLater('1 year')
    const rows = months.map((month, at) => `elm,${month},${100 + at},3,4,5\noak,${month},9,3,4,5`)
    const done = await takeIn(await look(csv([HEAD.join(','), ...rows].join('\n'))))
    await closeLater('-1 year')
    expect(done.line.counts).toMatchObject({ done: 6, refused: 0 })
    const order = await sql.query<{ period: string }>(
      `SELECT r.period FROM report_event e JOIN report p ON p.id = e.report JOIN round r ON r.id = p.round
       WHERE e.to_state = 'sent' AND p.unit = 'elm' ORDER BY e.seq`,
    )
    expect(order.map(({ period }) => period)).toEqual(['2026-08', '2026-09', '2026-10'])
  })

  it('comes to the same whether reports are taken in one by one or several at once', async () => {
    const rows = 'elm,2026-10,10,3,4,5\noak,2026-10,2,8,200,1\nash,2026-10,7,9,1,2'
    const outcome = async (atOnce: number) => {
      const clerk = personOf('clerk', 'elm')
      await fillReport(clerk, OCTOBER, 'elm', { tested: 99, positive: 100 })
      await sendReport(clerk, OCTOBER, 'elm', { 'rule:within': 'It stands in the book.' })
      const { line } = await look(csv(`${HEAD.join(',')}\n${rows}`), admin)
      await applyReportFile(admin, line.id, WHY)
      await importReports(UNWATCHED, atOnce)
      const found = [
        await sql.query(
          'SELECT p.unit, v.cell, v.kind, v.value, v.version FROM cell_value v JOIN report p ON p.id = v.report ORDER BY 1, 2',
        ),
        await sql.query('SELECT unit, state, answered, not_offered, path FROM report ORDER BY unit'),
        await sql.query(
          `SELECT p.unit, d.doubt_key, d.state, d.holds, d.evidence, d.contents FROM discrepancy d JOIN report p ON p.id = d.report ORDER BY 1, 2`,
        ),
        await sql.query(
          `SELECT p.unit, e.from_state, e.to_state, e.why FROM report_event e JOIN report p ON p.id = e.report ORDER BY p.unit, e.seq`,
        ),
        await sql.query(`SELECT act, text, count(*) FROM discrepancy_event GROUP BY 1, 2 ORDER BY 1, 2`),
      ]
      return found
    }
    const alone = await outcome(1)
    expect(alone[2]!.length).toBeGreaterThan(2)
    await emptyReports()
    expect(await outcome(5)).toEqual(alone)
  })

  it('is gone on with where a process died, and can be stopped in between', async () => {
    const { line } = await look(FILE)
    await applyReportFile(officer, line.id, WHY)
    const dies = new AbortController()
    await expect(
      importReports({ signal: dies.signal, progress: () => dies.abort(new Error('died')) }, 1),
    ).rejects.toThrow('died')
    expect((await reportFileView(officer, line.id)).line).toMatchObject({
      state: 'applying',
      counts: { done: 1 },
    })
    await stopReportFile(officer, line.id)
    await run()
    expect((await reportFileView(officer, line.id)).line).toMatchObject({
      state: 'applied',
      counts: { done: 1, ready: 1 },
    })
  })

  it('values of every kind, as spreadsheets hold them', async () => {
    const view = await look(
      await xlsx([
        ['unit', 'works', 'fridge', 'served', 'litres', 'remark'],
        ['elm', true, 'by gas, or "both"', new Date('2026-09-03T00:00:00Z'), 12.5, '=good'],
        ['oak', 'oui', 'coal', '2026-09-03', '1,5', 7],
      ]),
      officer,
      'kinds',
    )
    expect(refusals(view)).toEqual([['C3', 'answer-choice']])
    await takeIn(view)
    expect(await cellsAt('elm', 'kinds~2026-10')).toEqual(OF_EVERY_KIND)
    expect(await cellsAt('oak', 'kinds~2026-10')).toMatchObject({
      works: value(true),
      litres: value(1.5),
      remark: value('7'),
    })
  })
})

describe('taking a file back', () => {
  it('puts every value back, and the reports with their facilities, as if they had not come', async () => {
    await fillReport(personOf('clerk', 'oak'), OCTOBER, 'oak', { tested: 9 })
    const { line } = await takeIn(
      await look(csv(`${HEAD.join(',')}\nelm,2026-10,10,3,4,5\noak,2026-10,2,8,200,1`)),
    )
    await undoReportFile(officer, line.id)
    await run()
    const view = await reportFileView(officer, line.id)
    expect(view.line).toMatchObject({ state: 'undone', counts: { undone: 2 } })
    expect(await cellsAt('oak')).toMatchObject({ tested: value(9), positive: { kind: 'blank' } })
    const rows = (await board(officer, OCTOBER)).rows
    expect(rows.map(({ state, receivedAt, filled }) => [state, receivedAt, filled])).toEqual([
      ['draft', null, 0],
      ['draft', null, 0.25],
    ])
    expect((await board(officer, OCTOBER)).reporting).toMatchObject({ received: 0, onTime: 0 })
    expect(await sql.query(`SELECT 1 FROM discrepancy WHERE state <> 'settled' AND holds`)).toEqual([])
  })

  it('keeps what somebody changed or accepted since, and says so', async () => {
    const { line } = await takeIn(
      await look(csv(`${HEAD.join(',')}\nelm,2026-10,10,3,4,5\noak,2026-10,5,1,2,1`)),
    )
    await acceptReport(officer, OCTOBER, 'elm', '2026-11-05T13:00:00Z')
    await fillReport(
      personOf('clerk', 'oak'),
      OCTOBER,
      'oak',
      { tested: { value: 6, base: 1 } },
      { why: 'It is six.' },
    )
    await undoReportFile(officer, line.id)
    await run()
    const view = await reportFileView(officer, line.id)
    expect(view.line.counts).toMatchObject({ undone: 0, kept: 2 })
    expect(view.parts.map(({ unit, problem }) => [unit.code, problem])).toEqual([
      ['elm', 'file-accepted'],
      ['oak', 'file-changed'],
    ])
    expect(await cellsAt('oak')).toMatchObject({ tested: value(6), positive: value(1) })
  })

  it('a file that was only looked at is forgotten after a week', async () => {
    const { line } = await look(csv(`${HEAD.join(',')}\nelm,2026-10,10,3,4,5`))
    expect(await forgetOldFiles(sql)).toBe(0)
    await sql.query(`UPDATE report_file SET at = at - interval '8 days'`)
    expect(await forgetOldFiles(sql)).toBe(1)
    await expect(reportFileView(officer, line.id)).rejects.toMatchObject({ status: 404 })
  })
})

describe('the file to fill', () => {
  const template = (format: 'xlsx' | 'csv', round = OCTOBER) =>
    reportTemplate(officer, round, { format, language: 'en' })

  it('is read by a second library as it was written', async () => {
    const { bytes } = await template('xlsx')
    const rows = await readSheet(bytes)
    expect(rows).toEqual([
      ['Code', 'Facility', 'Period', 'tested', 'positive', 'seen, female', 'seen, male'],
      ['unit', 'unit_name', 'period', 'tested', 'positive', 'seen.f', 'seen.m'],
      ['elm', 'elm', '2026-10', null, null, null, null],
      ['oak', 'oak', '2026-10', null, null, null, null],
    ])
    expect((await readExcel(bytes)).map(({ sheet }) => sheet)).toEqual(['Reports'])
  })

  it('has headings that cannot be changed, choices as lists, and the definition as a note', async () => {
    const book = new ExcelJS.Workbook()
    await book.xlsx.load((await template('xlsx', 'kinds~2026-10')).bytes as never)
    const sheet = book.getWorksheet('Reports')!
    expect(sheet.getCell('D1').protection?.locked ?? true).toBe(true)
    expect(sheet.getCell('A3').protection?.locked ?? true).toBe(true)
    expect(sheet.getCell('D3').protection?.locked).toBe(false)
    expect((sheet as unknown as { sheetProtection: object }).sheetProtection).toBeTruthy()
    expect(JSON.stringify(sheet.getCell('D1').note)).toContain('To say')
    expect(sheet.getCell('D3').dataValidation).toMatchObject({ type: 'list', formulae: ['"yes,no"'] })
    expect(sheet.getCell('E4').dataValidation.formulae).toEqual([`'Choices'!$A$1:$A$2`])
    expect(book.getWorksheet('Choices')!.getCell('A2').value).toBe('by gas, or "both"')
  })

  it.each(['xlsx', 'csv'] as const)('comes back as it went, filled: %s', async format => {
    const { bytes, name } = await template(format)
    const empty = await look(given(bytes, name))
    expect(empty.line.counts).toMatchObject({ reports: 0 })
    expect(empty.notes).toMatchObject({ same: 2, refusedCount: 0, passedOver: [] })
    let filled = bytes
    if (format === 'csv')
      filled = Buffer.from(bytes.toString().replace('elm,elm,2026-10,,,,', 'elm,elm,2026-10,6,1,2,3'))
    else {
      const book = new ExcelJS.Workbook()
      await book.xlsx.load(bytes as never)
      const sheet = book.getWorksheet('Reports')!
      for (const [at, number] of [6, 1, 2, 3].entries()) sheet.getCell(3, 4 + at).value = number
      filled = Buffer.from(await book.xlsx.writeBuffer())
    }
    const view = await look(given(filled, name))
    expect(view.line.counts).toMatchObject({ reports: 1, changes: 4 })
    expect(view.notes).toMatchObject({ same: 1, refusedCount: 0 })
  })

  it.skipIf(!hasLibreOffice)(
    'is filled by a person in LibreOffice and comes back unharmed, with numbers, choices, days and texts',
    async () => {
      const { bytes, name } = await template('xlsx', 'kinds~2026-10')
      const typed = { D3: 'yes', E3: 'by gas, or "both"', F3: '2026-09-03', G3: '12.5', H3: "'=good" }
      const { xlsx: saved } = typeInLibreOffice(bytes, 'Reports', typed)
      const view = await look(given(saved, name), officer, 'kinds')
      expect(view.notes).toMatchObject({ same: 1, refusedCount: 0, passedOver: [] })
      await takeIn(view)
      expect(await cellsAt('elm', 'kinds~2026-10')).toEqual(OF_EVERY_KIND)
      // Saved by LibreOffice it still lets nobody write over a facility, and everybody fill the next one.
      const { csv: again } = typeInLibreOffice(saved, 'Reports', { A4: 'elsewhere', D4: 'no' })
      expect(again.split('\n').slice(2, 4)).toEqual([
        expect.stringMatching(/^elm,elm,2026-10,yes,/),
        expect.stringMatching(/^oak,oak,2026-10,no,/),
      ])
    },
    OFFICE_MS,
  )
})
