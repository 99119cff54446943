import { parseDay } from '#core/calendar/day'
import type { UnitPreview, UnitSource } from '#core/contract/units'
import { MOST_ROWS } from '#core/contract/units'
import { readUnitsCsv } from '#core/exchange/units-csv'
import { readUnitsFhir } from '#core/exchange/units-fhir'
import { readUnitsGeoJson } from '#core/exchange/units-geojson'
import { planChanges, type UnitPlan } from '#core/geography/plan-changes'
import { readUnitRows, type UnitRows } from '#core/geography/unit-row'
import { everBelow, growTree, type UnitTree } from '#core/geography/unit-tree'
import { must } from '#core/result'
import { mustHold, type Access } from '../access/access'
import { database, type Sql } from '../database'
import { Refusal } from '../http/refusal'
import { basisOf, readTree } from './tree'

const READERS = { csv: readUnitsCsv, geojson: readUnitsGeoJson, fhir: readUnitsFhir }

/** The rows of a source. @throws Refusal 422 with the reason when a file cannot be read at all, or gives nothing or too much. */
function rowsOf({ rows, file }: UnitSource): UnitRows {
  if (rows) return readUnitRows(rows.map((fields, at) => ({ line: at + 1, fields })))
  if (!file) throw new Refusal(400, 'schema', 'Give rows or a file.')
  const read = READERS[file.format](file.text)
  if (!read.ok) throw new Refusal(422, read.problems[0]!.code, read.problems[0]!.message, read.problems)
  const count = read.value.rows.length + read.value.refused.length
  if (count === 0) throw new Refusal(422, 'file-empty', 'There is no unit in this file.')
  if (count > MOST_ROWS) throw new Refusal(422, 'file-too-long', `A file may hold ${MOST_ROWS} units; this one has ${count}.`, [{ code: 'file-too-long', message: '', values: { most: MOST_ROWS, count } }])
  return read.value
}

/** Plans the changes of a source on the tree as it stands. @throws Refusal 403 when a unit would lie, or lies, outside the person's branch. */
export async function planSource(sql: Pick<Sql, 'query'>, access: Access, source: UnitSource): Promise<{ tree: UnitTree; plan: UnitPlan; day: number }> {
  const day = must(parseDay(source.day))
  const tree = await readTree(sql)
  const plan = planChanges(tree, rowsOf(source), day)
  if (access.branch !== null) {
    const next = must(growTree([...new Map([...tree.units.map(unit => [unit.code, unit] as const), ...plan.after]).values()]))
    for (const [code, { spans }] of plan.after) {
      for (const of of [tree, next]) for (const { from } of spans) if (of.at(code, from)) mustHold(access, of.path(code, from).join('.'))
    }
  }
  return { tree, plan, day }
}

/** What the changes touch: reports from the day on of the units that change and of all below them, and signatures of those rounds. */
async function touchedBy(sql: Pick<Sql, 'query'>, tree: UnitTree, plan: UnitPlan, day: string): Promise<UnitPreview['touched']> {
  const touched = everBelow(tree.units, [...plan.before].flatMap(([code, unit]) => (unit ? [code] : [])))
  const [row] = await sql.query<UnitPreview['touched']>(
    `SELECT (SELECT count(*) FROM report r JOIN round o ON o.id = r.round WHERE o.last_day >= $2 AND r.unit = ANY($1::text[])) AS reports,
            (SELECT count(DISTINCT (s.round, s.unit)) FROM signature s JOIN round o ON o.id = s.round JOIN report r ON r.round = o.id
             JOIN unit_span p ON p.unit = r.unit AND p.from_day <= o.last_day AND (p.to_day IS NULL OR p.to_day > o.first_day) AND p.path ~ ('*.' || s.unit || '.*')::lquery
             WHERE o.last_day >= $2 AND r.unit = ANY($1::text[])) AS signed`, [[...touched], day])
  return row!
}

/** Says, line by line, what a source would do. Changes nothing. */
export async function previewUnits(access: Access, source: UnitSource): Promise<UnitPreview> {
  const sql = await database()
  const { tree, plan } = await planSource(sql, access, source)
  const counts: UnitPreview['counts'] = {}
  for (const { verdict } of plan.lines) counts[verdict] = (counts[verdict] ?? 0) + 1
  return { day: source.day, basis: await basisOf(sql), counts, lines: plan.lines, touched: await touchedBy(sql, tree, plan, source.day) }
}
