import { parsePeriod } from '#core/calendar/period-text'
import { firstDay, lastDay, periodOfDay } from '#core/calendar/period'
import { printDay } from '#core/calendar/day'
import type { ComparedItem, Verification, VerificationQuery } from '#core/contract/visits'
import { groupBy } from '#core/group-by'
import { itemsOf, type Edition } from '#core/report/edition'
import { good } from '#core/result'
import { branchPath, unitAsked, type Access } from '../access/access'
import { editionOf } from '../datasets/editions'
import { database, type Sql } from '../database'
import { comparedNumbers, heldRecounts } from '../recounts/held'
import { refusedBy } from '../refusal'
import { today } from '../settings'

/** How many facilities a page has. */
const PAGE = 50

interface Row {
  unit: string
  unitName: string
  dataset: string
  edition: number
  item: string
  recounted: number
  reported: number
  cells: number
  reports: number
}

/** A report's period counts in the quarter that holds its middle day: a week's fourth. */
const MIDDLE_DAY = 'n.first_day + (n.last_day - n.first_day) / 2'

/**
 * Of the recounts within a branch and some days: what was recounted and what is reported, added up by unit and
 * item. Cells that are no numbers in the report are left out.
 */
const comparedIn = (
  sql: Pick<Sql, 'query'>,
  path: readonly string[],
  days: readonly [string, string],
): Promise<Row[]> =>
  sql.query<Row>(
    `SELECT p.unit, u.name AS "unitName", n.dataset, max(p.edition) AS edition, split_part(h.cell, '.', 1) AS item,
       sum(h.value) AS recounted, sum(v.value) AS reported, count(*)::int AS cells, count(DISTINCT h.report)::int AS reports
     FROM (${heldRecounts(
       'JOIN report o ON o.id = r.report JOIN round n ON n.id = o.round',
       `o.path @> $1::text[] AND ${MIDDLE_DAY} BETWEEN $2 AND $3`,
     )}) h
       JOIN report p ON p.id = h.report JOIN round n ON n.id = p.round JOIN unit_latest u ON u.code = p.unit
       JOIN cell_value v ON v.report = h.report AND v.cell = h.cell AND v.value IS NOT NULL
     GROUP BY p.unit, u.name, n.dataset, split_part(h.cell, '.', 1) ORDER BY u.name, p.unit, n.dataset, 5`,
    [path, ...days],
  )

/** Counts of some rows added up, held against each other, with names. */
function compare(rows: readonly Row[], edition: Edition): ComparedItem {
  const sum = (of: (row: Row) => number) => rows.reduce((total, row) => total + of(row), 0)
  const [recounted, reported] = [sum(row => row.recounted), sum(row => row.reported)]
  const code = rows[0]!.item
  return {
    dataset: edition.name,
    item: itemsOf(edition).find(item => item.code === code)?.name ?? { en: code },
    ...{ recounted, reported, ...comparedNumbers(recounted, reported) },
    ...{ cells: sum(row => row.cells), reports: sum(row => row.reports) },
  }
}

/**
 * How far what facilities reported in a quarter was verified: recounted over reported for each item, of each
 * facility and of the branch together. The counts are added up before they are divided.
 *
 * @throws Refusal 403, 404, 422 for a quarter that is none
 */
export async function verification(
  access: Access,
  { unit: asked, quarter, after }: VerificationQuery,
): Promise<Verification> {
  const sql = await database()
  const period = quarter ? parsePeriod(quarter) : good(periodOfDay('quarter', await today(sql)))
  if (!period.ok) throw refusedBy(422, period.problems, 'quarter')
  const { code } = await unitAsked(access, asked)
  const days = [printDay(firstDay(period.value)), printDay(lastDay(period.value))] as const
  const rows = await comparedIn(sql, branchPath(code), days)
  const editions = new Map<string, Edition>()
  for (const { dataset, edition } of rows) {
    const key = `${dataset} ${edition}`
    if (!editions.has(key)) editions.set(key, (await editionOf(sql, dataset, edition)).edition)
  }
  const named = (own: readonly Row[]) =>
    compare(own, editions.get(`${own[0]!.dataset} ${Math.max(...own.map(({ edition }) => edition))}`)!)
  const itemsIn = (own: readonly Row[]) =>
    [...groupBy(own, ({ dataset, item }) => `${dataset} ${item}`).values()].map(named)
  const units = [...groupBy(rows, ({ unit }) => unit).values()]
  const start = after === undefined ? 0 : units.findIndex(([first]) => first!.unit === after) + 1
  return {
    totals: itemsIn(rows),
    lines: units.slice(start, start + PAGE).map(own => ({
      unit: { code: own[0]!.unit, name: own[0]!.unitName },
      items: itemsIn(own),
    })),
    more: units.length > start + PAGE,
  }
}
