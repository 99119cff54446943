import { lastDay, shiftPeriod } from '#core/calendar/period'
import { printDay } from '#core/calendar/day'
import { parsePeriod, printPeriod } from '#core/calendar/period-text'
import type { PastAsked } from '#core/contract/drafts'
import type { CellValue } from '#core/report/cell'
import { earlierPeriods } from '#core/report/period-table'
import { must } from '#core/result'
import type { Past } from '#core/rule/try-out'
import { branchPath, unitAsked, type Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { notFound } from '../refusal'
import { roundsWhere } from '../rounds/round'
import { otherValue } from './cells'
import { countPast } from './past-counts'
import { receivedOf } from './place'

/** So many reports are read by one statement: on the embedded engine everybody waits for each. */
const AT_ONCE = 2000

interface CellColumns {
  cell: string
  kind: 'value' | 'notKnown' | 'notOffered'
  places: number[]
  /** Null where a value is no number. */
  numbers: (number | null)[]
}

/** Some reports, in the order of their numbers, so that only a part of the index is read, and the place of each. */
interface Piece {
  reports: readonly number[]
  places: readonly number[]
}

/**
 * The received reports of the last rounds that are over or under way, as columns of just the cells that are
 * asked for: what a rule or indicator is tried on. Units are those of today; a report that no longer has a
 * unit in the branch is left out. A dataset that has no round yet has no past: no units, no periods.
 * @throws Refusal 404 when there is no such dataset, 403 outside the branch.
 */
export async function pastOf(
  access: Access,
  dataset: string,
  { cells, counts, rounds, lookBack, unit }: PastAsked,
): Promise<Past> {
  const sql = await database()
  const branch = unit === undefined ? access.branch : (await unitAsked(access, unit)).code
  const [newest] = await roundsWhere(
    sql,
    'r.dataset = $1 AND r.opens_at <= $2 ORDER BY r.last_day DESC LIMIT 1',
    [dataset, nowText()],
  )
  if (!newest) {
    const [draft] = await sql.query(
      'SELECT 1 FROM dataset_draft WHERE dataset = $1 UNION ALL SELECT 1 FROM edition WHERE dataset = $1',
      [dataset],
    )
    if (!draft) throw notFound('dataset')
    return { periods: [], judged: 0, units: [], received: [], numbers: {}, notKnown: {}, notOffered: {} }
  }
  const period = must(parsePeriod(newest.period))
  // The rounds that are judged one after the other, and all that they look back at.
  const judged = Array.from({ length: rounds }, (_, step) => shiftPeriod(period, -step))
  const reached = new Map(
    judged.flatMap(one => [one, ...earlierPeriods(one, lookBack)]).map(one => [one.index, one]),
  )
  const periods = [...reached.values()]
    .sort((one, other) => other.index - one.index)
    .map(one => ({ period: printPeriod(one), lastDay: printDay(lastDay(one)) }))
  // Arrays, not rows: a thousand facilities have twelve thousand of them.
  const [found] = await sql.query<{ ids: number[]; codes: string[]; steps: number[] }>(
    `SELECT coalesce(array_agg(f.id), '{}') AS ids, coalesce(array_agg(f.unit), '{}') AS codes, coalesce(array_agg(f.at), '{}') AS steps FROM (
       SELECT p.id, p.unit, array_position($2::text[], r.period) - 1 AS at
       FROM report p JOIN round r ON r.id = p.round JOIN unit_latest u ON u.code = p.unit
       WHERE r.dataset = $1 AND r.period = ANY($2::text[]) AND ${receivedOf('p')} AND u.path @> $3::text[] ORDER BY p.id) f`,
    [dataset, periods.map(one => one.period), branchPath(branch)],
  )
  const { ids: reports, codes, steps } = found!
  const units = await sql.query<Past['units'][number]>(
    'SELECT code, name, path FROM unit_latest WHERE code = ANY($1::text[]) ORDER BY name, code',
    [[...new Set(codes)]],
  )
  const placeOfUnit = new Map(units.map(({ code }, place) => [code, place]))
  const size = units.length
  const placeOf = codes.map((code, at) => steps[at]! * size + placeOfUnit.get(code)!)
  const received = new Array<number>(periods.length * size).fill(0)
  for (const place of placeOf) received[place] = 1
  const past: Past = { periods, judged: rounds, units, received, numbers: {}, notKnown: {}, notOffered: {} }
  for (const cell of cells) past.numbers[cell] = new Array<number | null>(periods.length * size).fill(null)
  for (let from = 0; from < reports.length; from += AT_ONCE) {
    const to = from + AT_ONCE
    await addPiece(sql, past, { reports: reports.slice(from, to), places: placeOf.slice(from, to) }, cells)
  }
  if (counts?.length) past.counts = await countPast(sql, counts, past)
  return past
}

/** The stored cells of a piece, each with its place: no row of an answer has to name its report. */
const FROM_PIECE = `FROM unnest($1::bigint[], $2::int[]) AS w (report, place) JOIN cell_value c ON c.report = w.report
  WHERE c.cell = ANY($3::text[]) AND c.report BETWEEN $4 AND $5`
const parametersOf = ({ reports, places }: Piece, cells: readonly string[]) => [
  ...[reports, places, cells],
  ...[reports[0]!, reports.at(-1)!],
]

/**
 * Reads the cells of some reports. What they hold, and the numbers, stand in the index; only of cells that have
 * values of other kinds the rows themselves are read.
 */
async function addPiece(
  sql: Pick<Sql, 'query'>,
  past: Past,
  piece: Piece,
  cells: readonly string[],
): Promise<void> {
  const columns = await sql.query<CellColumns>(
    `SELECT c.cell, c.kind, array_agg(w.place) AS places, array_agg(c.value) AS numbers
     ${FROM_PIECE} AND c.kind <> 'blank' GROUP BY c.cell, c.kind`,
    parametersOf(piece, cells),
  )
  const haveOthers: string[] = []
  for (const { cell, kind, places, numbers } of columns) {
    if (kind !== 'value') (past[kind][cell] ??= []).push(...places)
    else {
      places.forEach((place, at) => (past.numbers[cell]![place] = numbers[at]!))
      if (numbers.includes(null)) haveOthers.push(cell)
    }
  }
  if (haveOthers.length) await addOthers(sql, past, piece, haveOthers)
}

/** Reads the values of some cells that are no numbers. */
async function addOthers(
  sql: Pick<Sql, 'query'>,
  past: Past,
  piece: Piece,
  cells: readonly string[],
): Promise<void> {
  const columns = await sql.query<{ cell: string; places: number[]; values: CellValue[] }>(
    `SELECT c.cell, array_agg(w.place) AS places, array_agg(${otherValue('c')}) AS values
     ${FROM_PIECE} AND c.kind = 'value' AND c.value IS NULL GROUP BY c.cell`,
    parametersOf(piece, cells),
  )
  for (const { cell, places, values } of columns) {
    const own = ((past.values ??= {})[cell] ??= new Array<CellValue | null>(past.received.length).fill(null))
    places.forEach((place, at) => (own[place] = values[at]!))
  }
}
