import { parseDay } from '#core/calendar/day'
import { withoutPaths } from '#core/geography/pathed-spans'
import type { UnitHistory, UnitSpan } from '#core/geography/unit'
import { growTree, type UnitTree } from '#core/geography/unit-tree'
import { must } from '#core/result'
import type { Sql } from '../database'
import { runHeavy } from '../threads/run-heavy'
import { PATH_SEPARATOR, spansOfChanges, type SpanColumns } from './plan-work'

interface SpanRow {
  unit: string
  from_day: string
  to_day: string | null
  parent: string | null
  name: string
  kind: string
}

const dayNumberOf = (text: string) => must(parseDay(text))

/** The histories of all units, as the database holds them. */
export async function readHistories(sql: Pick<Sql, 'query'>): Promise<UnitHistory[]> {
  const units = await sql.query<{
    code: string
    level: number
    latitude: number | null
    longitude: number | null
  }>('SELECT code, level, latitude, longitude FROM unit ORDER BY level, code')
  const rows = await sql.query<SpanRow>(
    'SELECT unit, from_day, to_day, parent, name, kind FROM unit_span ORDER BY unit, from_day',
  )
  const levels = new Map(units.map(({ code, level }) => [code, level]))
  const spans = new Map<string, UnitSpan[]>()
  for (const { unit, from_day, to_day, parent, name, kind } of rows) {
    const span: UnitSpan = {
      from: dayNumberOf(from_day),
      to: to_day === null ? null : dayNumberOf(to_day),
      parent,
      name,
      level: levels.get(unit)!,
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
    `INSERT INTO unit (code, level, latitude, longitude) SELECT * FROM unnest($1::text[], $2::smallint[], $3::float8[], $4::float8[])
     ON CONFLICT (code) DO UPDATE SET level = EXCLUDED.level, latitude = EXCLUDED.latitude, longitude = EXCLUDED.longitude`,
    [
      written.map(({ code }) => code),
      written.map(({ spans }) => spans.at(-1)!.level),
      written.map(({ position }) => position?.latitude ?? null),
      written.map(({ position }) => position?.longitude ?? null),
    ],
  )
  await writeSpans(sql, touched, spans)
  const gone = [...changes].flatMap(([code, history]) => (history ? [] : [code]))
  if (gone.length) await sql.query('DELETE FROM unit WHERE code = ANY($1::text[])', [gone])
}

/** Writes the spans of some units anew. */
async function writeSpans(
  sql: Sql,
  touched: readonly string[],
  { units, from, to, parents, names, kinds, paths }: SpanColumns,
): Promise<void> {
  await sql.query('DELETE FROM unit_span WHERE unit = ANY($1::text[])', [touched])
  await sql.query(
    `INSERT INTO unit_span (unit, from_day, to_day, parent, name, kind, path)
     SELECT unit, from_day, to_day, parent, name, kind, string_to_array(path, '${PATH_SEPARATOR}') FROM unnest($1::text[], $2::date[], $3::date[], $4::text[], $5::text[], $6::text[], $7::text[])
       AS given (unit, from_day, to_day, parent, name, kind, path)`,
    [units, from, to, parents, names, kinds, paths],
  )
}
