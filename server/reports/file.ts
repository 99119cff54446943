import type { StoredCell, ReportFile } from '#core/contract/reports'
import type { CellKind } from '#core/report/cell'
import { isFor } from '#core/rule/definition'
import { lanternSign } from '#core/report/state'
import { may } from '#core/contract/permission'
import type { Access } from '../access/access'
import { now } from '../clock'
import { database, type Sql } from '../database'
import { lateChangesOf } from './late-changes'
import { notOfferedCells } from './services'
import { roundRef } from '../rounds/round'
import { districtOf, settings } from '../settings'
import { contentOf, historyBefore, type CellReader } from './cells'
import { openConflicts } from './conflicts'
import { reportPlace, stateOf } from './place'

async function storedCells(sql: Pick<Sql, 'query'>, report: number): Promise<StoredCell[]> {
  const rows = await sql.query<{
    cell: string
    kind: CellKind
    value: number | null
    reason: string | null
    version: number
  }>('SELECT cell, kind, value, reason, version FROM cell_value WHERE report = $1', [report])
  return rows.map(({ cell, kind, value, reason, version }) => ({
    cell,
    version,
    content: contentOf(kind, value, reason),
  }))
}

/**
 * One report with everything that is needed to fill and to check it, also without a network.
 * @param read reads the cells of the reports before it
 */
export async function reportFile(
  access: Access,
  roundId: string,
  unitCode: string,
  read?: CellReader,
): Promise<ReportFile> {
  const sql = await database()
  const { round, unit, report, ready } = await reportPlace(sql, access, roundId, unitCode)
  const district = districtOf(unit.path, await settings())
  const [districtUnit] = await sql.query<{ name: string }>('SELECT name FROM unit_latest WHERE code = $1', [
    district,
  ])
  const history = await historyBefore(sql, round, unitCode, ready, access.ownOnly ? access.id : null, read)
  const id = report?.id ?? null
  const discrepancies = await sql.query<ReportFile['discrepancies'][number]>(
    'SELECT id AS discrepancy, doubt_key AS key, source, code, band, strength, state, cells, holds FROM discrepancy WHERE report = $1 ORDER BY found_at, doubt_key',
    [id],
  )
  const comments = await sql.query<{ cell: string; count: number }>(
    'SELECT cell, count(*)::int AS count FROM cell_comment WHERE report = $1 GROUP BY cell',
    [id],
  )
  const [back] = await sql.query<{ why: string | null }>(
    `SELECT why FROM report_event WHERE report = $1 AND to_state = 'sentBack' ORDER BY seq DESC LIMIT 1`,
    [id],
  )
  const conflicts = id === null ? [] : await openConflicts(sql, id)
  const state = stateOf(report)
  const [letIn] = await sql.query<NonNullable<ReportFile['letIn']>>(
    'SELECT l.until, l.why, p.display_name AS by FROM let_in l JOIN person p ON p.id = l.person WHERE l.round = $1 AND l.unit = $2 ORDER BY l.seq DESC LIMIT 1',
    [roundId, unitCode],
  )
  return {
    round: roundRef(round),
    unit: { code: unit.code, name: unit.name },
    district: { code: district, name: districtUnit?.name ?? district },
    state,
    sign: lanternSign(state, Date.parse(round.dueAt), now()),
    receivedAt: report?.receivedAt ?? null,
    sentBackWhy: state === 'sentBack' ? (back?.why ?? null) : null,
    // The desk judges what it is given: rules for other places or later days stay here.
    edition: {
      ...ready.edition,
      rules: ready.edition.rules.filter(rule => isFor(rule, unit.path, round.lastDay)),
    },
    // Before its first answer a report already shows what the facility does not offer, as it will then be
    // kept.
    cells: report
      ? await storedCells(sql, report.id)
      : (await notOfferedCells(sql, round, unit.code, ready.cells)).map(cell => ({
          cell,
          version: 1,
          content: { kind: 'notOffered' },
        })),
    history,
    discrepancies,
    conflicts,
    late: may(access.role, 'resolve') ? await lateChangesOf(sql, roundId, unitCode) : [],
    letIn: letIn ?? null,
    comments: Object.fromEntries(comments.map(({ cell, count }) => [cell, count])),
  }
}
