import { parseDay, printDay } from '#core/calendar/day'
import type { UnitSource } from '#core/contract/units'
import { MOST_ROWS } from '#core/contract/units'
import type { ColumnMatch, HeadingMemory } from '#core/exchange/unit-columns'
import { columnsOf, cutUnitsCsv, readUnitsTable } from '#core/exchange/units-csv'
import { readUnitsFhir } from '#core/exchange/units-fhir'
import { readUnitsGeoJson } from '#core/exchange/units-geojson'
import { pathedSpans } from '#core/geography/pathed-spans'
import { planChanges, type UnitPlan } from '#core/geography/plan-changes'
import type { UnitHistory } from '#core/geography/unit'
import { readUnitRows, type UnitRows } from '#core/geography/unit-row'
import { everBelow, growTree } from '#core/geography/unit-tree'
import { must, type Result } from '#core/result'
import { holds } from '../access/branch'
import { outsideBranch, Refusal, refusedBy } from '../refusal'

/** @throws Refusal 422 with the reason. */
function readable<T>(read: Result<T>): T {
  if (!read.ok) throw refusedBy(422, read.problems)
  return read.value
}

const NOTHING: UnitRows = { rows: [], refused: [], passedOver: [] }

/**
 * The rows of a CSV file. A column that is missing can be matched by hand: with `lenient` the file has no
 * rows yet.
 */
function rowsOfCsv(
  { text, columns: chosen }: NonNullable<UnitSource['file']>,
  memory: HeadingMemory,
  lenient: boolean,
): { rows: UnitRows; columns: ColumnMatch } {
  const table = readable(cutUnitsCsv(text))
  const columns = columnsOf(table, chosen, memory)
  return {
    rows: lenient && columns.missing.length ? NOTHING : readable(readUnitsTable(table, columns)),
    columns,
  }
}

/**
 * The rows of a source. @throws Refusal 422 with the reason when a file cannot be read at all, or gives
 * nothing or too much.
 */
function rowsOf(
  { rows, file }: UnitSource,
  memory: HeadingMemory,
  lenient: boolean,
): { rows: UnitRows; columns: ColumnMatch | null } {
  if (rows) return { rows: readUnitRows(rows.map((fields, at) => ({ line: at + 1, fields }))), columns: null }
  if (!file) throw new Refusal(400, 'schema', 'Give rows or a file.')
  const read =
    file.format === 'csv'
      ? rowsOfCsv(file, memory, lenient)
      : {
          rows: readable((file.format === 'fhir' ? readUnitsFhir : readUnitsGeoJson)(file.text)),
          columns: null,
        }
  if (read.columns?.missing.length) return read
  const count = read.rows.rows.length + read.rows.refused.length
  if (count === 0) throw new Refusal(422, 'file-empty', 'There is no unit in this file.')
  if (count > MOST_ROWS)
    throw new Refusal(422, 'file-too-long', `A file may hold ${MOST_ROWS} units; this one has ${count}.`, [
      { code: 'file-too-long', message: '', values: { most: MOST_ROWS, count } },
    ])
  return read
}

/** The changes of a source. */
export interface UnitPlanned {
  plan: UnitPlan
  /** Codes of all units that it touches, with those below them. */
  touched: string[]
  /** What of the source has no place. */
  passedOver: string[]
  /** Of a CSV file. */
  columns: ColumnMatch | null
}

/**
 * Plans the changes of a source on the tree as it stands.
 *
 * @param histories all units
 * @param branch of the person; null is the whole tree
 * @param memory what was decided about headings of earlier files
 * @param lenient a file that lacks a column is no error: it has no rows, and the answer says which columns
 *   are missing
 * @throws Refusal 403 when a unit would lie, or lies, outside the branch; 422 when the source cannot be read
 */
export function planUnits({
  histories,
  source,
  branch,
  memory,
  lenient,
}: {
  histories: UnitHistory[]
  source: UnitSource
  branch: string | null
  memory: HeadingMemory
  lenient: boolean
}): UnitPlanned {
  const tree = must(growTree(histories))
  const { rows, columns } = rowsOf(source, memory, lenient)
  const plan = planChanges(tree, rows, must(parseDay(source.day)))
  if (branch !== null) {
    const next = must(
      growTree([...new Map([...tree.units.map(unit => [unit.code, unit] as const), ...plan.after]).values()]),
    )
    for (const [code, { spans }] of plan.after) {
      for (const of of [tree, next]) {
        for (const { from } of spans)
          if (of.at(code, from) && !holds(branch, of.path(code, from))) throw outsideBranch()
      }
    }
  }
  return {
    plan,
    passedOver: rows.passedOver,
    columns,
    touched: [
      ...everBelow(
        tree.units,
        [...plan.before].flatMap(([code, unit]) => (unit ? [code] : [])),
      ),
    ],
  }
}

/** Parts the codes of a path on its way to the database: no code holds it. */
export const PATH_SEPARATOR = '|'

/** A span with its path, as columns of the table. */
export interface SpanColumns {
  units: string[]
  from: string[]
  to: (string | null)[]
  parents: (string | null)[]
  names: string[]
  levels: number[]
  kinds: string[]
  paths: string[]
}

/**
 * The spans that have to be written anew when some units change: theirs, and those of all that was or will be
 * below.
 *
 * @param changes null takes a unit away
 */
export function spansOfChanges({
  histories,
  changes,
}: {
  histories: UnitHistory[]
  changes: ReadonlyMap<string, UnitHistory | null>
}): { touched: string[]; spans: SpanColumns } {
  const next = new Map(histories.map(unit => [unit.code, unit]))
  for (const [code, history] of changes) {
    if (history) next.set(code, history)
    else next.delete(code)
  }
  const tree = must(growTree([...next.values()]))
  const touched = [
    ...new Set([...everBelow(histories, changes.keys()), ...everBelow(tree.units, changes.keys())]),
  ]
  const spans = pathedSpans(
    tree,
    touched.filter(code => tree.history(code)),
  )
  return {
    touched,
    spans: {
      units: spans.map(({ unit }) => unit),
      from: spans.map(({ from }) => printDay(from)),
      to: spans.map(({ to }) => (to === null ? null : printDay(to))),
      parents: spans.map(({ parent }) => parent),
      names: spans.map(({ name }) => name),
      levels: spans.map(({ level }) => level),
      kinds: spans.map(({ kind }) => kind),
      paths: spans.map(({ path }) => path.join(PATH_SEPARATOR)),
    },
  }
}
