import { parseDay } from '#core/calendar/day'
import { withoutPaths } from '#core/geography/pathed-spans'
import type { UnitHistory, UnitSpan } from '#core/geography/unit'
import { growTree, type UnitTree } from '#core/geography/unit-tree'
import { must } from '#core/result'
import type { Sql } from '../database'
import { runHeavy } from '../threads/run-heavy'
import { placeReports, writeLatest } from './latest'
import { PATH_SEPARATOR, spansOfChanges, type SpanColumns } from './plan-work'

interface SpanRow {
  unit: string
  from_day: string
  to_day: string | null
  parent: string | null
  name: string
  level: number
  kind: string
}

const dayNumberOf = (text: string) => must(parseDay(text))

/** The histories of all units, as the database holds them. */
export async function readHistories(sql: Pick<Sql, 'query'>): Promise<UnitHistory[]> {
  const units = await sql.query<{ code: string; latitude: number | null; longitude: number | null }>(
    'SELECT u.code, u.latitude, u.longitude FROM unit u LEFT JOIN unit_latest l ON l.code = u.code ORDER BY l.level, u.code',
  )
  const rows = await sql.query<SpanRow>(
    'SELECT unit, from_day, to_day, parent, name, level, kind FROM unit_span ORDER BY unit, from_day',
  )
  const spans = new Map<string, UnitSpan[]>()
  for (const { unit, from_day, to_day, parent, name, level, kind } of rows) {
    const span: UnitSpan = {
      from: dayNumberOf(from_day),
      to: to_day === null ? null : dayNumberOf(to_day),
      parent,
      name,
      level,
      kind,
    }
    const known = spans.get(unit)
    if (known) known.push(span)
    else spans.set(unit, [span])
  }
  return units.map(({ code, latitude, longitude }) => ({
    code,
    spans: withoutPaths(spans.get(code) ?? []),
    ...(latitude !== null && longitude !== null && { position: { latitude, longitude } }),
  }))
}

/** The tree as it stands. What is in the database passed every check when it was written. */
export const readTree = async (sql: Pick<Sql, 'query'>): Promise<UnitTree> =>
  must(growTree(await readHistories(sql)))

/** Which state of the tree this is: rises with each change. */
export async function basisOf(sql: Pick<Sql, 'query'>): Promise<number> {
  const [row] = await sql.query<{ basis: number }>(
    'SELECT count(*) + count(undone_at) AS basis FROM unit_change',
  )
  return row!.basis
}

/**
 * Writes units as they are from now on: `null` takes one away that nobody has used. Units below one that
 * moves get new paths. All in the transaction of the caller.
 */
export async function writeUnits(sql: Sql, changes: ReadonlyMap<string, UnitHistory | null>): Promise<void> {
  const { touched, spans } = await runHeavy('spansOfChanges', spansOfChanges, {
    histories: await readHistories(sql),
    changes,
  })
  const written = [...changes.values()].flatMap(unit => unit ?? [])
  await sql.query(
    `INSERT INTO unit (code, latitude, longitude) SELECT * FROM unnest($1::text[], $2::float8[], $3::float8[])
     ON CONFLICT (code) DO UPDATE SET latitude = EXCLUDED.latitude, longitude = EXCLUDED.longitude`,
    [
      written.map(({ code }) => code),
      written.map(({ position }) => position?.latitude ?? null),
      written.map(({ position }) => position?.longitude ?? null),
    ],
  )
  await writeSpans(sql, touched, spans)
  const gone = [...changes].flatMap(([code, history]) => (history ? [] : [code]))
  if (gone.length) await sql.query('DELETE FROM unit WHERE code = ANY($1::text[])', [gone])
  await writeLatest(sql, touched)
  await placeReports(sql, 'p.unit = ANY($1::text[])', [touched])
}

/** Writes the spans of some units anew. */
async function writeSpans(
  sql: Sql,
  touched: readonly string[],
  { units, from, to, parents, names, levels, kinds, paths }: SpanColumns,
): Promise<void> {
  await sql.query('DELETE FROM unit_span WHERE unit = ANY($1::text[])', [touched])
  await sql.query(
    `INSERT INTO unit_span (unit, from_day, to_day, parent, name, level, kind, path)
     SELECT unit, from_day, to_day, parent, name, level, kind, string_to_array(path, '${PATH_SEPARATOR}')
     FROM unnest($1::text[], $2::date[], $3::date[], $4::text[], $5::text[], $6::smallint[], $7::text[], $8::text[])
       AS given (unit, from_day, to_day, parent, name, level, kind, path)`,
    [units, from, to, parents, names, levels, kinds, paths],
  )
}
