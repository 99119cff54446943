import type { DiscrepancyFile, DiscrepancyLine } from '#core/contract/discrepancies'
import { LANGUAGES } from '#core/languages'
import { RANGE_PERIODS } from '#core/quality/expected-range'
import { BLANK, numberOf } from '#core/report/cell'
import { axesOf, nameCell } from '#core/report/edition'
import type { Cure } from '#core/rollup/cures'
import { shifts } from '#core/rollup/effect'
import type { Doubt } from '#core/rule/find-doubts'
import { titleOfDoubt } from '#core/rule/title'
import { filledBy, mustHold, type Access } from '../access/access'
import { keptFigures, refreshEffects } from '../checks/effects'
import { editionOf, type ReadyEdition } from '../datasets/editions'
import { database, type Sql } from '../database'
import { lockFacilities } from '../database/locks'
import { notFound, outsideBranch } from '../refusal'
import { cellsOfReports, historyBefore } from '../reports/cells'
import { openConflicts } from '../reports/conflicts'
import { roundById, roundRef, type Round } from '../rounds/round'
import { districtOf, settings } from '../settings'

/** A discrepancy as the database keeps it. */
export interface DiscrepancyRow {
  id: string
  report: number
  round: string
  unit: string
  edition: number
  reportState: DiscrepancyFile['reportState']
  source: 'rule' | 'range'
  code: string
  strength: DiscrepancyLine['strength']
  cells: string[]
  state: DiscrepancyLine['state']
  outcome: DiscrepancyLine['outcome']
  holds: boolean
  evidence: Doubt & { cures: Cure[] }
  /** The unit as it was in the round's period; no path when the round no longer expects it. */
  unitName: string
  path: string[] | null
  /** As it was computed last (see checks/effects.ts). */
  effect: number | null
}

/** For queries: the columns of a row, of a discrepancy `d`, its report `p` and its effect `e`. */
export const DISCREPANCY_COLUMNS = `d.id, d.report, p.round, p.unit, p.edition, p.state AS "reportState", d.source, d.code, d.strength,
  d.cells, d.state, d.outcome, d.holds, d.evidence, p.unit_name AS "unitName", p.path, e.effect`
export const DISCREPANCY_TABLES =
  'discrepancy d JOIN report p ON p.id = d.report LEFT JOIN discrepancy_effect e ON e.discrepancy = d.id'

/** A discrepancy as lists show it. */
export const lineOf = (row: DiscrepancyRow, round: Round, ready: ReadyEdition): DiscrepancyLine => ({
  id: row.id,
  unit: { code: row.unit, name: row.unitName },
  round: roundRef(round),
  source: row.source,
  strength: row.strength,
  state: row.state,
  outcome: row.outcome,
  holds: row.holds,
  title: titleOfDoubt(ready.edition, row.evidence),
  effect: row.effect,
})

/** A discrepancy's row and round, for a person. @throws Refusal 404, 403 */
export async function findDiscrepancy(sql: Pick<Sql, 'query'>, access: Access, id: string) {
  const [row] = await sql.query<DiscrepancyRow & { isOwn: boolean }>(
    `SELECT ${DISCREPANCY_COLUMNS}, ($2::uuid IS NULL OR ${filledBy('p', '$2')}) AS "isOwn" FROM ${DISCREPANCY_TABLES} WHERE d.id = $1`,
    [id, access.ownOnly ? access.id : null],
  )
  if (!row?.path) throw notFound('discrepancy')
  mustHold(access, row.path)
  if (!row.isOwn) throw outsideBranch()
  const round = await roundById(sql, row.round)
  return { row, path: row.path, round, ready: await editionOf(sql, round.dataset, row.edition) }
}

/** The facilities whose reports some discrepancies are about. */
export async function facilitiesOfDiscrepancies(
  sql: Pick<Sql, 'query'>,
  ids: readonly string[],
): Promise<string[]> {
  const rows = await sql.query<{ unit: string }>(
    'SELECT p.unit FROM discrepancy d JOIN report p ON p.id = d.report WHERE d.id = ANY($1::uuid[])',
    [ids],
  )
  return rows.map(({ unit }) => unit)
}

/** The same, alone with its facility for the rest of the transaction: of several who settle it, one does. */
export async function lockedDiscrepancy(tx: Sql, access: Access, id: string) {
  await lockFacilities(tx, await facilitiesOfDiscrepancies(tx, [id]))
  return findDiscrepancy(tx, access, id)
}

/** Names of the items and bands that a doubt speaks of. */
function itemsNamed(ready: ReadyEdition, evidence: Doubt): DiscrepancyFile['items'] {
  const parts = [...(evidence.explanation?.left.parts ?? []), ...(evidence.explanation?.right?.parts ?? [])]
  const terms = parts.flatMap(part => (typeof part === 'string' ? [] : [part.item]))
  const codes = new Set([...terms, ...evidence.cells.map(cell => ready.cellByKey.get(cell)!.item.code)])
  const items = ready.edition.sections.flatMap(section => section.items).filter(({ code }) => codes.has(code))
  return Object.fromEntries(
    items.map(item => {
      // By the code alone, and with its axis: two axes may have a band of one code.
      const bands = axesOf(ready.edition, item).flatMap(axis =>
        axis.bands.flatMap(
          band =>
            [
              [band.code, band.name],
              [`${axis.code}.${band.code}`, band.name],
            ] as const,
        ),
      )
      return [item.code, { item, bands: Object.fromEntries(bands) }]
    }),
  )
}

/** One discrepancy with its evidence, the last 13 periods of its cells, its effect and its thread. */
export async function discrepancyFile(access: Access, id: string): Promise<DiscrepancyFile> {
  const { row } = await findDiscrepancy(await database(), access, id)
  await refreshEffects(row.unit)
  return readDiscrepancy(access, id)
}

/** The same with the effect as it was computed last: for many at once, after {@link refreshEffects}. */
export async function readDiscrepancy(access: Access, id: string): Promise<DiscrepancyFile> {
  const sql = await database()
  const { row, path, round, ready } = await findDiscrepancy(sql, access, id)
  const district = districtOf(path, await settings())
  const figures = await keptFigures(sql, { round: round.id, district }, row.edition)
  const [districtUnit] = await sql.query<{ name: string }>('SELECT name FROM unit_latest WHERE code = $1', [
    district,
  ])
  const doubted = row.cells.map(key => ready.cellByKey.get(key)!)
  const history = await historyBefore(
    sql,
    round,
    row.unit,
    { cells: doubted, lookBack: [RANGE_PERIODS] },
    access.ownOnly ? access.id : null,
  )
  const now = (await cellsOfReports(sql, [row.report])).get(row.report) ?? {}
  const versions = new Map(
    (
      await sql.query<{ cell: string; version: number }>(
        'SELECT cell, version FROM cell_value WHERE report = $1',
        [row.report],
      )
    ).map(({ cell, version }) => [cell, version]),
  )
  const thread = await sql.query<DiscrepancyFile['thread'][number]>(
    `SELECT e.at, p.display_name AS by, e.act, e.text FROM discrepancy_event e LEFT JOIN person p ON p.id = e.person
     WHERE e.discrepancy = $1 ORDER BY e.seq`,
    [id],
  )
  const conflicts = await openConflicts(sql, row.report)
  const rule =
    row.source === 'rule' ? ready.rules.find(({ rule: { code } }) => code === row.code)!.rule : undefined
  const { range, cures, ...rest } = row.evidence
  return {
    line: lineOf(row, round, ready),
    district: { code: district, name: districtUnit?.name ?? district },
    reportState: row.reportState,
    doubt: { ...rest, ...(range && { range }) },
    sentence: rule?.forOfficer ?? {},
    forClerk: rule?.forClerk ?? {},
    items: itemsNamed(ready, row.evidence),
    cells: doubted.map(cell => {
      const { key } = cell
      const trend = [...history.numbers[key]!.toReversed(), numberOf(now[key])]
      const name = Object.fromEntries(LANGUAGES.map(language => [language, nameCell(cell, language)]))
      return {
        cell: key,
        name,
        number: cell.item.number,
        content: now[key] ?? BLANK,
        version: versions.get(key) ?? 0,
        trend,
        conflicts: conflicts.filter(one => one.cell === key),
      }
    }),
    periods: [...history.periods.toReversed(), round.period],
    range: range ? { low: range.low, high: range.high } : null,
    shifts: row.holds ? shifts(cures, ready.cellByKey, figures) : [],
    thread,
  }
}
