import { v7 as uuid } from 'uuid'
import { parseDay } from '#core/calendar/day'
import { cycleOf, periodOfDay, type Cycle, type ReportFrequency } from '#core/calendar/period'
import { parsePeriod, printPeriod } from '#core/calendar/period-text'
import {
  MOST_FILE_LINES,
  type FileNotes,
  type ReportFileNew,
  type ReportFileView,
} from '#core/contract/report-files'
import { readReportSheet, type SheetLine, type SheetProblem } from '#core/exchange/report-sheet'
import { fold } from '#core/form/code'
import { documentSheet } from '#core/sending/read-document'
import { groupBy } from '#core/group-by'
import { BLANK, sameContent, type CellContent } from '#core/report/cell'
import type { Edition } from '#core/report/edition'
import type { Problem } from '#core/result'
import { branchPath, type Access } from '../access/access'
import { nowText } from '../clock'
import { editionOf } from '../datasets/editions'
import { database, type Sql } from '../database'
import { notFound, Refusal, refusedBy } from '../refusal'
import { storedCellsOf } from '../reports/cells'
import { isClosed } from '../rounds/closing'
import { roundsOfPeriods, type Round } from '../rounds/round'
import { settings } from '../settings'
import { recipientCodes } from '../recipients/code-book'
import { runHeavy } from '../threads/run-heavy'
import { expectedUnitsOf } from '../units/expected-units'
import { reportFileView } from './list'
import { readSheets, type FileRead } from './read-sheets'

/** A change of a cell as the file makes it. */
export interface FileChange {
  id: string
  cell: string
  base: number
  content: CellContent
}
/** A row of the file with the round and the unit that it is of. */
interface Placed {
  sheet: string
  line: SheetLine
  round: Round
  unit: string
}
interface Part extends Omit<Placed, 'round'> {
  round: string
  changes: FileChange[]
}
type Reader = Pick<Sql, 'query'>

const problem = (code: string, message: string, values?: Problem['values']): Problem => ({
  code,
  message,
  ...(values && { values }),
})

/** Finds a unit of the branch by its code or name. */
async function unitFinder(sql: Reader, branch: string | null): Promise<(text: string) => string | Problem> {
  const units = await sql.query<{ code: string; name: string }>(
    'SELECT code, name FROM unit_latest WHERE path @> $1::text[]',
    [branchPath(branch)],
  )
  const codes = new Set(units.map(({ code }) => code))
  const byName = groupBy(units, ({ name }) => fold(name))
  return text => {
    if (codes.has(text)) return text
    const named = byName.get(fold(text)) ?? []
    if (named.length === 1) return named[0]!.code
    return named.length
      ? problem('file-unit-two', `“${text}” is the name of ${named.length} units: give the code.`, {
          text,
          codes: named.map(({ code }) => code).join(', '),
        })
      : problem('file-unit-none', `There is no unit “${text}” here.`, { text })
  }
}

/** The period that a text of a row means: a period, or a day within it. */
function periodOf(text: string, cycle: Cycle, usual: string | null): string | Problem {
  if (!text) return usual ?? problem('file-period-none', 'No period stands here.')
  const day = cycle.frequency === 'day' ? null : parseDay(text)
  if (day?.ok) return printPeriod(periodOfDay(cycle, day.value))
  const period = parsePeriod(text, cycle)
  return period.ok ? printPeriod(period.value) : period.problems[0]!
}

/** Why a round takes no report of a unit from a file; undefined when it does. */
function problemOfPlace(round: Round | undefined, period: string, isExpected: boolean): Problem | undefined {
  if (!round) return problem('file-round-none', `There is no round for ${period}.`, { period })
  if (isClosed(round)) return problem('round-closed', 'This round has closed.')
  return isExpected
    ? undefined
    : problem('file-not-expected', 'This facility was not expected to report then.')
}

/** The rows whose reports are found, each once; why the others are refused is added. */
async function place(
  sql: Reader,
  access: Access,
  asked: ReportFileNew,
  frequency: ReportFrequency,
  lines: readonly { sheet: string; line: SheetLine }[],
  refused: SheetProblem[],
): Promise<Placed[]> {
  const cycle = cycleOf(frequency, await settings(sql as Sql))
  const findUnit = await unitFinder(sql, access.branch)
  const usual = asked.round ? (asked.round.split('~')[1] ?? null) : null
  const refuse = (sheet: string, line: SheetLine, of: Problem) =>
    refused.push({ sheet, row: line.row, column: '', heading: line.unit, problem: of })
  const found = lines.flatMap(({ sheet, line }) => {
    const unit = findUnit(line.unit)
    const period = periodOf(line.period, cycle, usual)
    if (typeof unit !== 'string') refuse(sheet, line, unit)
    else if (typeof period !== 'string') refuse(sheet, line, period)
    else return [{ sheet, line, unit, period }]
    return []
  })
  const periods = [...new Set(found.map(({ period }) => period))]
  const rounds = new Map(
    (await roundsOfPeriods(sql, asked.dataset, periods)).map(round => [round.period, round]),
  )
  const expected = await expectedUnitsOf(sql, [...rounds.values()], access.branch)
  const expectedIn = new Map([...expected].map(([id, units]) => [id, new Set(units.map(({ code }) => code))]))
  const seen = new Set<string>()
  return found.flatMap(({ sheet, line, unit, period }) => {
    const round = rounds.get(period)
    const key = `${period} ${unit}`
    const wrong = problemOfPlace(round, period, expectedIn.get(round?.id ?? '')?.has(unit) ?? false)
    if (wrong) refuse(sheet, line, wrong)
    else if (seen.has(key))
      refuse(sheet, line, problem('file-row-twice', 'This report stands in a row before.'))
    else {
      seen.add(key)
      return [{ sheet, line, unit, round: round! }]
    }
    return []
  })
}

/** What of each report changes; reports that stay as they are go. */
async function changesOf(sql: Reader, placed: readonly Placed[]): Promise<Part[]> {
  const reports = await sql.query<{ id: number; key: string }>(
    `SELECT p.id, p.round || ' ' || p.unit AS key
     FROM unnest($1::text[], $2::text[]) AS w (round, unit) JOIN report p ON p.round = w.round AND p.unit = w.unit`,
    [placed.map(({ round }) => round.id), placed.map(({ unit }) => unit)],
  )
  const idOf = new Map(reports.map(({ id, key }) => [key, id]))
  const cells = await storedCellsOf(sql, [...idOf.values()])
  return placed.flatMap(({ round, ...one }) => {
    const stored = new Map(
      (cells.get(idOf.get(`${round.id} ${one.unit}`) ?? -1) ?? []).map(of => [of.cell, of]),
    )
    const changes = [...one.line.contents].flatMap(([cell, content]) => {
      const here = stored.get(cell)
      return sameContent(here?.content ?? BLANK, content)
        ? []
        : [{ id: uuid(), cell, base: here?.version ?? 0, content }]
    })
    return changes.length ? [{ ...one, round: round.id, changes }] : []
  })
}

/** Reads all sheets. @throws Refusal 422 when none of them is a table of reports */
function readAll(edition: Edition, { sheets }: FileRead, language: string) {
  const read = sheets.map(sheet => ({ name: sheet.name, read: readReportSheet(edition, sheet, language) }))
  const good = read.flatMap(({ name, read: of }) => (of.ok ? [{ name, ...of.value }] : []))
  if (!good.length) {
    const problems = read.flatMap(({ read: of }) => (of.ok ? [] : of.problems))
    if (problems.length) throw refusedBy(422, problems.slice(0, 1))
    throw new Refusal(422, 'file-empty', 'Nothing stands in this file.')
  }
  return {
    lines: good.flatMap(({ name, lines }) => lines.map(line => ({ sheet: name, line }))),
    refused: good.flatMap(({ refused }) => refused),
    passedOver: [
      ...good.flatMap(({ passedOver }) => passedOver),
      // A sheet that is no table of reports: notes, or a chart.
      ...read.flatMap(({ name, read: of }) => (of.ok ? [] : [name])),
    ],
  }
}

/** The reports of another system as a sheet, under our codes. @throws Refusal 404 for whose codes there are none */
async function asSheets(
  sql: Reader,
  file: FileRead,
  { name, codesOf, dataset }: ReportFileNew,
  edition: Edition,
  frequency: ReportFrequency,
): Promise<FileRead> {
  if (!file.document) return file
  const codes = codesOf ? await recipientCodes(sql, codesOf, dataset) : null
  const cycle = cycleOf(frequency, await settings(sql as Sql))
  return { ...file, sheets: [documentSheet(name, file.document, edition, cycle, codes)] }
}

async function store(
  tx: Sql,
  access: Access,
  asked: ReportFileNew,
  notes: FileNotes,
  parts: readonly Part[],
) {
  const id = uuid()
  await tx.query(
    `INSERT INTO report_file (id, dataset, name, branch, person, at, state, notes) VALUES ($1, $2, $3, $4, $5, $6, 'ready', $7)`,
    [id, asked.dataset, asked.name, access.branch, access.id, nowText(), notes],
  )
  await tx.query(
    `INSERT INTO report_file_part (file, number, round, unit, sheet, row, changes, changed)
     SELECT $1, p.number, p.round, p.unit, p.sheet, p.row, p.changes::jsonb, p.changed
     FROM unnest($2::int[], $3::text[], $4::text[], $5::text[], $6::int[], $7::text[], $8::int[]) AS p (number, round, unit, sheet, row, changes, changed)`,
    [
      id,
      parts.map((_, at) => at + 1),
      parts.map(({ round }) => round),
      parts.map(({ unit }) => unit),
      parts.map(({ sheet }) => sheet),
      parts.map(({ line }) => line.row),
      parts.map(({ changes }) => JSON.stringify(changes)),
      parts.map(({ changes }) => changes.length),
    ],
  )
  return id
}

/**
 * Reads a file of reports and says what it would change, before anything changes: units, items and periods are
 * matched, and what is refused has its place and its reason.
 *
 * @throws Refusal 404, 422 `file-…` and `sheet-…` when the file as a whole cannot be taken
 */
export async function previewReportFile(access: Access, asked: ReportFileNew): Promise<ReportFileView> {
  const file = await runHeavy('readSheets', readSheets, { name: asked.name, base64: asked.base64 })
  const sql = await database()
  const [dataset] = await sql.query<{ frequency: ReportFrequency; edition: number | null }>(
    'SELECT d.frequency, (SELECT max(e.number) FROM edition e WHERE e.dataset = d.code) AS edition FROM dataset d WHERE d.code = $1',
    [asked.dataset],
  )
  if (!dataset?.edition) throw notFound('dataset')
  const { edition } = await editionOf(sql, asked.dataset, dataset.edition)
  const { lines, refused, passedOver } = readAll(
    edition,
    await asSheets(sql, file, asked, edition, dataset.frequency),
    asked.language,
  )
  const placed = await place(sql, access, asked, dataset.frequency, lines, refused)
  const parts = await changesOf(sql, placed)
  const notes: FileNotes = {
    refused: refused.slice(0, MOST_FILE_LINES).map(({ problem: { code, message, values }, ...where }) => ({
      ...where,
      ...{ code, message },
      ...(values && { values }),
    })),
    refusedCount: refused.length,
    same: placed.length - parts.length,
    passedOver: passedOver.slice(0, MOST_FILE_LINES),
    hidden: file.hidden,
    formulas: file.formulas,
  }
  const id = await sql.transaction(tx => store(tx, access, asked, notes, parts))
  return reportFileView(access, id)
}
