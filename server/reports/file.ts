import type { ReportFile } from '#core/contract/reports'
import { groupBy } from '#core/group-by'
import { isFor } from '#core/rule/definition'
import { lanternSign } from '#core/report/state'
import { may } from '#core/contract/permission'
import type { Access } from '../access/access'
import { now } from '../clock'
import { database, type Sql } from '../database'
import { roundRef } from '../rounds/round'
import { districtOf, settings, type Settings } from '../settings'
import { unitNames } from '../units/latest'
import { historiesBefore, storedCellsOf } from './cells'
import { openConflicts } from './conflicts'
import { countFiguresOf } from './count-figures'
import { otherFiguresOf } from './other-figures'
import { lateChangesOf } from './late-changes'
import { placeKey, reportKey, reportPlace, stateOf, type ReportPlace } from './place'
import { notOfferedItems } from './services'

type Reader = Pick<Sql, 'query'>

/** What is said about some reports: their discrepancies, how many comments a cell has, why they came back. */
async function saidAbout(sql: Reader, reports: readonly number[]) {
  const [discrepancies, comments, back] = await Promise.all([
    sql.query<ReportFile['discrepancies'][number] & { report: number }>(
      `SELECT report, id AS discrepancy, doubt_key AS key, source, code, band, strength, state, cells, holds
       FROM discrepancy WHERE report = ANY($1::bigint[]) ORDER BY found_at, doubt_key`,
      [reports],
    ),
    sql.query<{ report: number; cell: string; count: number }>(
      `SELECT report, cell, count(*)::int AS count FROM cell_comment
       WHERE report = ANY($1::bigint[]) GROUP BY report, cell`,
      [reports],
    ),
    sql.query<{ report: number; why: string | null }>(
      `SELECT DISTINCT ON (report) report, why FROM report_event
       WHERE report = ANY($1::bigint[]) AND to_state = 'sentBack' ORDER BY report, seq DESC`,
      [reports],
    ),
  ])
  return {
    discrepancies: groupBy(discrepancies, row => row.report),
    comments: groupBy(comments, row => row.report),
    whyBack: new Map(back.map(({ report, why }) => [report, why])),
  }
}

/** The last time that the units of some places were let in after closing, by {@link reportKey}. */
async function letInto(sql: Reader, places: readonly ReportPlace[]) {
  const rows = await sql.query<NonNullable<ReportFile['letIn']> & { round: string; unit: string }>(
    `SELECT DISTINCT ON (l.round, l.unit) l.round, l.unit, l.until, l.why, p.display_name AS by
     FROM unnest($1::text[], $2::text[]) AS w (round, unit) JOIN let_in l ON l.round = w.round AND l.unit = w.unit JOIN person p ON p.id = l.person
     ORDER BY l.round, l.unit, l.seq DESC`,
    [places.map(({ round }) => round.id), places.map(({ unit }) => unit.code)],
  )
  return new Map(rows.map(({ round, unit, ...letIn }) => [reportKey({ round, unit }), letIn]))
}

/**
 * Reports with everything that is needed to fill and to check them, also without a network; in the order of
 * their places, which the person may see. However many there are, the database is asked the same few times.
 */
export async function reportFilesOf(
  sql: Reader,
  access: Access,
  places: readonly ReportPlace[],
  all: Settings,
): Promise<ReportFile[]> {
  const districts = places.map(({ unit }) => districtOf(unit.path, all))
  const ids = places.flatMap(({ report }) => (report ? [report.id] : []))
  const [nameOf, histories, others, counted, cells, said, conflicts, letIn, notOffered, late] =
    await Promise.all([
      unitNames(sql, districts),
      historiesBefore(
        sql,
        places.map(({ round, unit, ready }) => ({ round, unit: unit.code, of: ready })),
        access.ownOnly ? access.id : null,
      ),
      otherFiguresOf(sql, places),
      countFiguresOf(sql, places),
      storedCellsOf(sql, ids),
      saidAbout(sql, ids),
      openConflicts(sql, ids),
      letInto(sql, places),
      // Before its first answer a report already shows what the facility does not offer, as it will then be kept.
      notOfferedItems(
        sql,
        places.filter(({ report }) => !report),
      ),
      may(access, 'resolve') ? lateChangesOf(sql, places) : () => [],
    ])
  const { discrepancies, comments, whyBack } = said
  return places.map((place, at) => {
    const { round, unit, report, ready } = place
    const state = stateOf(report)
    const marks = report ? (discrepancies.get(report.id) ?? []) : []
    const counts = report ? (comments.get(report.id) ?? []) : []
    const district = districts[at]!
    return {
      round: roundRef(round),
      unit: { code: unit.code, name: unit.name },
      district: { code: district, name: nameOf(district) },
      state,
      sign: lanternSign(state, Date.parse(round.dueAt), now()),
      receivedAt: report?.receivedAt ?? null,
      sentBackWhy: report && state === 'sentBack' ? (whyBack.get(report.id) ?? null) : null,
      // The desk judges what it is given: rules for other places or later days stay here.
      edition: {
        ...ready.edition,
        rules: ready.edition.rules.filter(rule => isFor(rule, unit.path, round.lastDay)),
      },
      cells: report
        ? (cells.get(report.id) ?? [])
        : ready.cells
            .filter(({ item }) => notOffered(place).has(item.code))
            .map(({ key }) => ({ cell: key, version: 1, content: { kind: 'notOffered' } })),
      history: histories[at]!,
      ...(ready.others.length && { others: others[at]! }),
      ...(ready.counts.length && { counts: counted[at]! }),
      discrepancies: marks.map(({ report: _, ...mark }) => mark),
      conflicts: report ? conflicts(report.id) : [],
      late: late(place),
      letIn: letIn.get(placeKey(place)) ?? null,
      comments: Object.fromEntries(counts.map(({ cell, count }) => [cell, count])),
    }
  })
}

/** One report of them. @throws Refusal 404, 403 */
export async function reportFile(access: Access, roundId: string, unitCode: string): Promise<ReportFile> {
  const sql = await database()
  const [place, all] = await Promise.all([reportPlace(sql, access, roundId, unitCode), settings()])
  return (await reportFilesOf(sql, access, [place], all))[0]!
}
