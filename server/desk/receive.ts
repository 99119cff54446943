import type { DeskEvent } from '#core/contract/desk'
import type { CellContent } from '#core/report/cell'
import { branchPath, type Access } from '../access/access'
import { nowText } from '../clock'
import { database } from '../database'

const MOST = 500

/**
 * What happened since a cursor in the person's branch: values, states of reports, questions, entries of
 * cases. The cursor is the last number of each of the four histories; they only grow, so it means the same
 * after a restart.
 */
export async function receiveSince(
  access: Access,
  { since = '0.0.0.0', most = MOST }: { since?: string; most?: number },
): Promise<{ at: string; cursor: string; more: boolean; events: DeskEvent[]; definitions: string }> {
  const sql = await database()
  const [cells, reports, questions, entries] = since.split('.').map(Number) as [
    number,
    number,
    number,
    number,
  ]
  const branch = branchPath(access.branch)
  const own = access.ownOnly ? access.id : null
  const ownReport = `($4::uuid IS NULL OR EXISTS (SELECT 1 FROM report_event own WHERE own.report = p.id AND own.person = $4))`
  type Of = { seq: number; round: string; unit: string; at: string }
  const ofCells = await sql.query<Of & { cell: string; content: CellContent; last: string; version: number }>(
    `SELECT e.seq, p.round, p.unit, e.at, e.cell, e.new AS content, e.id AS last, (SELECT count(*) FROM cell_event b WHERE b.report = e.report AND b.cell = e.cell AND b.seq <= e.seq)::int AS version
     FROM cell_event e JOIN report p ON p.id = e.report JOIN unit_latest u ON u.code = p.unit WHERE e.seq > $1 AND u.path @> $2::text[] AND ${ownReport} ORDER BY e.seq LIMIT $3`,
    [cells, branch, most, own],
  )
  const ofReports = await sql.query<
    Of & { state: 'draft' | 'sent' | 'sentBack' | 'accepted'; why: string | null }
  >(
    `SELECT e.seq, p.round, p.unit, e.at, e.to_state AS state, e.why FROM report_event e JOIN report p ON p.id = e.report JOIN unit_latest u ON u.code = p.unit WHERE e.seq > $1 AND u.path @> $2::text[] AND ${ownReport} ORDER BY e.seq LIMIT $3`,
    [reports, branch, most, own],
  )
  const ofQuestions = await sql.query<Of & { discrepancy: string; act: string; text: string | null }>(
    `SELECT e.seq, p.round, p.unit, e.at, e.discrepancy, e.act, e.text FROM discrepancy_event e JOIN discrepancy d ON d.id = e.discrepancy JOIN report p ON p.id = d.report JOIN unit_latest u ON u.code = p.unit
     WHERE e.seq > $1 AND u.path @> $2::text[] AND ${ownReport} ORDER BY e.seq LIMIT $3`,
    [questions, branch, most, own],
  )
  const ofEntries = await sql.query<{ seq: number } & Omit<Extract<DeskEvent, { kind: 'entry' }>, 'kind'>>(
    `SELECT e.seq, e.received_at AS at, c.unit, e.id, e.case_id AS "case", c.register, e.edition, e.form, e.answers, e.happened_on AS "happenedOn", e.corrects, c.parent
     FROM case_entry e JOIN case_record c ON c.id = e.case_id JOIN unit_latest u ON u.code = c.unit WHERE e.seq > $1 AND u.path @> $2::text[] AND ($4::uuid IS NULL OR e.person = $4) ORDER BY e.seq LIMIT $3`,
    [entries, branch, most, own],
  )
  const [{ definitions } = { definitions: '' }] = await sql.query<{ definitions: string }>(
    `SELECT concat_ws('.', (SELECT count(*) FROM register_edition), (SELECT count(*) FROM edition), (SELECT count(*) FROM unit_change), (SELECT count(*) FROM unit), (SELECT count(*) FROM round), (SELECT count(*) FROM let_in)) AS definitions`,
  )
  const lists = [ofCells, ofReports, ofQuestions, ofEntries]
  const upTo = lists.map((list, at) => list.at(-1)?.seq ?? [cells, reports, questions, entries][at]!)
  return {
    at: nowText(),
    cursor: upTo.join('.'),
    more: lists.some(list => list.length === most),
    definitions,
    events: [
      ...ofCells.map(({ round, unit, at, cell, content, version, last }) => ({
        kind: 'cell' as const,
        round,
        unit,
        at,
        cell,
        content,
        version,
        last,
      })),
      ...ofReports.map(({ round, unit, at, state, why }) => ({
        kind: 'report' as const,
        round,
        unit,
        at,
        state,
        why,
      })),
      ...ofQuestions.map(({ round, unit, at, discrepancy, act, text }) => ({
        kind: 'question' as const,
        round,
        unit,
        at,
        discrepancy,
        act,
        text,
      })),
      ...ofEntries.map(
        ({ at, unit, id, case: of, register, edition, form, answers, happenedOn, corrects, parent }) => ({
          kind: 'entry' as const,
          at,
          unit,
          id,
          case: of,
          register,
          edition,
          form,
          answers,
          happenedOn,
          corrects,
          parent,
        }),
      ),
    ],
  }
}
