import { fold } from '#core/form/code'
import { noteUnits } from '../changes/note'
import type { Parameter, Sql } from '../database'
import { assigned } from './expected-units'

/** What a search looks in, of a unit. */
export const searchTextOf = ({ name, code }: { name: string; code: string }): string =>
  fold(`${name} ${code}`)

/** The names of some units as they are now; a unit that is not there is called by its code. */
export async function unitNames(
  sql: Pick<Sql, 'query'>,
  codes: readonly string[],
): Promise<(code: string) => string> {
  const rows = await sql.query<{ code: string; name: string }>(
    'SELECT code, name FROM unit_latest WHERE code = ANY($1::text[])',
    [[...new Set(codes)]],
  )
  const names = new Map(rows.map(({ code, name }) => [code, name]))
  return code => names.get(code) ?? code
}

/** Writes what is true of some units now, after their spans were written. The only writer of `unit_latest`. */
export async function writeLatest(sql: Pick<Sql, 'query'>, units: readonly string[]): Promise<void> {
  await sql.query(
    `INSERT INTO unit_latest (code, name, kind, parent, path, from_day, to_day, level)
     SELECT DISTINCT ON (unit) unit, name, kind, parent, path, from_day, to_day, level
     FROM unit_span WHERE unit = ANY($1::text[]) ORDER BY unit, from_day DESC
     ON CONFLICT (code) DO UPDATE SET name = EXCLUDED.name, kind = EXCLUDED.kind, parent = EXCLUDED.parent, path = EXCLUDED.path,
       from_day = EXCLUDED.from_day, to_day = EXCLUDED.to_day, level = EXCLUDED.level`,
    [units],
  )
  await writeSearchTexts(sql, 'code = ANY($1::text[])', [units])
  await noteUnits(sql, units)
}

async function writeSearchTexts(
  sql: Pick<Sql, 'query'>,
  condition: string,
  values: readonly Parameter[],
): Promise<void> {
  const rows = await sql.query<{ code: string; name: string }>(
    `SELECT code, name FROM unit_latest WHERE ${condition}`,
    values,
  )
  if (!rows.length) return
  await sql.query(
    'UPDATE unit_latest u SET search_text = g.text FROM unnest($1::text[], $2::text[]) AS g (code, text) WHERE u.code = g.code',
    [rows.map(({ code }) => code), rows.map(searchTextOf)],
  )
}

/** Writes the search texts that a migration could not: folding accents is ours, not the database's. */
export const completeSearchTexts = (sql: Pick<Sql, 'query'>): Promise<void> =>
  writeSearchTexts(sql, `search_text = ''`, [])

/** For queries: where the unit of each report `p` was in the period of its round `r`; null when not expected. */
export const PLACED = `SELECT p.id, p.round, p.path AS before, p.unit_name AS "nameBefore", e.path, coalesce(e.name, p.unit_name) AS name
  FROM report p JOIN round r ON r.id = p.round
  LEFT JOIN LATERAL (
    SELECT s.unit AS code, s.path, s.name, s.level FROM unit_span s
    WHERE s.unit = p.unit AND s.from_day <= r.last_day AND (s.to_day IS NULL OR s.to_day > r.first_day)
    ORDER BY s.from_day DESC LIMIT 1) s ON true
  LEFT JOIN LATERAL (
    SELECT s.path, s.name WHERE EXISTS (
      SELECT 1 FROM assignment a WHERE a.dataset = r.dataset AND ${assigned('s', 'r.first_day', 'r.last_day')})) e ON true`

/**
 * Writes where the units of some reports were in the period of their rounds, or that they are no longer
 * expected; and notes the districts whose figures that changes. The only writer of `report.path`.
 *
 * @param which for queries: the condition on the report `p` and its round `r`
 */
export async function placeReports(
  sql: Pick<Sql, 'query'>,
  which: string,
  values: readonly Parameter[],
): Promise<void> {
  await sql.query(
    `WITH placed AS (${PLACED} WHERE ${which}),
     moved AS (
       UPDATE report p SET path = w.path, unit_name = w.name FROM placed w
       WHERE w.id = p.id AND (p.path IS DISTINCT FROM w.path OR p.unit_name <> w.name))
     INSERT INTO figures_to_refresh (round, path)
     SELECT DISTINCT w.round, x.path FROM placed w, LATERAL (VALUES (w.before), (w.path)) AS x (path)
     WHERE w.before IS DISTINCT FROM w.path AND x.path IS NOT NULL`,
    values,
  )
}
