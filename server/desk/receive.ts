import type { DeskEvent } from '#core/contract/desk'
import type { CellContent } from '#core/report/cell'
import { branchPath, datasetsSeen, enteredBy, filledBy, ofDatasets, type Access } from '../access/access'
import { seenBy } from '../cases/case-events'
import { ofRegisters, registerCodesSeen } from '../cases/shared'
import { nowText } from '../clock'
import { database, type Database, type Sql } from '../database'
import { holdFacilities } from '../database/locks'
import { caseNews, ENTRY_EVENT } from './case-news'

const MOST = 500

/** The histories that a device hears. Each event has a number of its history. */
const HISTORIES = ['cell_event', 'report_event', 'discrepancy_event', 'case_entry', 'case_event'] as const
/** How many facilities are waited for at once: each is a lock, and a server has room for some thousands. */
const LOCKS_AT_ONCE = 200

/**
 * Up to which number each history of some facilities can be read. A number is given before its transaction
 * is committed, so one that is seen says nothing about the ones below it. But events of a facility are only
 * written alone with it: who wrote one of the numbers given so far has its lock until they are committed.
 * Once each lock was free for a moment, all of these numbers are committed or will never be
 * (docs/decisions/0035).
 */
async function readableUpTo(sql: Database, units: readonly string[]): Promise<number[]> {
  const [given] = await sql.query<Record<(typeof HISTORIES)[number], number>>(
    `SELECT ${HISTORIES.map(name => `(SELECT CASE WHEN is_called THEN last_value ELSE 0 END FROM ${name}_seq_seq) AS ${name}`).join(', ')}`,
  )
  for (let at = 0; at < units.length; at += LOCKS_AT_ONCE)
    await sql.transaction(tx => holdFacilities(tx, units.slice(at, at + LOCKS_AT_ONCE)))
  return HISTORIES.map(name => given![name])
}

/** Events of a history, for a person: those of the reports `p` that they may see. */
const OF_REPORTS = `e.seq > $1 AND e.seq <= $2 AND p.unit = ANY($3::text[])
  AND ($4::uuid IS NULL OR ${filledBy('p', '$4')}) AND ${ofDatasets('p.round', '$6')}`
const IN_PAGES = 'ORDER BY seq LIMIT $5'

/**
 * Events of discrepancies. Two questions in one, each by the indexes of its facilities: asked as one, every
 * discrepancy of the installation would be held against them.
 */
const QUESTIONS = `SELECT e.seq, p.round, p.unit, NULL::uuid AS "case", e.at, e.discrepancy, e.act, e.text
  FROM report p JOIN discrepancy d ON d.report = p.id JOIN discrepancy_event e ON e.discrepancy = d.id WHERE ${OF_REPORTS}
  UNION ALL SELECT e.seq, NULL, c.unit, c.id, e.at, e.discrepancy, e.act, e.text
  FROM case_record c JOIN discrepancy d ON d.case_id = c.id JOIN discrepancy_event e ON e.discrepancy = d.id
  WHERE e.seq > $1 AND e.seq <= $2 AND c.unit = ANY($3::text[]) AND ($4::uuid IS NULL OR ${enteredBy('c', '$4')})
    AND ${ofRegisters('$7')}`

type Of = { seq: number; round: string; unit: string; at: string }

/** An event of a discrepancy about a report (with its round) or a case. */
type Asked = {
  seq: number
  unit: string
  at: string
  discrepancy: string
  act: string
  text: string | null
} & ({ round: string; case: null } | { round: null; case: string })

function questionOf({ seq: _, round, case: of, ...event }: Asked): DeskEvent {
  return of === null ? { kind: 'question', round, ...event } : { kind: 'caseQuestion', case: of, ...event }
}

/** Which definitions there are: a device that knows others reads them anew. */
async function stampOf(sql: Pick<Sql, 'query'>): Promise<string> {
  const [row] = await sql.query<{ definitions: string }>(
    `SELECT concat_ws('.', (SELECT count(*) FROM register_edition), (SELECT count(*) FROM edition), (SELECT count(*) FROM unit_change), (SELECT count(*) FROM unit), (SELECT count(*) FROM round), (SELECT count(*) FROM let_in)) AS definitions`,
  )
  return row!.definitions
}

/**
 * What happened since a cursor in the person's branch, of what is shared with them: values, states of reports, questions, entries of
 * cases. The cursor is the last number of each of the histories; they only grow, so it means the same
 * after a restart. Nothing that is committed later has a number below it.
 */
export async function receiveSince(
  access: Access,
  { since = '0', most = MOST }: { since?: string; most?: number },
): Promise<{ at: string; cursor: string; more: boolean; events: DeskEvent[]; definitions: string }> {
  const sql = await database()
  const numbers = since.split('.').map(Number)
  // A device of an earlier version knows fewer histories: it hears the others from their beginning.
  const from = HISTORIES.map((_, at) => numbers[at] ?? 0)
  const units = (
    await sql.query<{ code: string }>('SELECT code FROM unit_latest WHERE path @> $1::text[]', [
      branchPath(access.branch),
    ])
  ).map(({ code }) => code)
  const upTo = await readableUpTo(sql, units)
  const own = access.ownOnly ? access.id : null
  const datasets = datasetsSeen(access)
  const registers = registerCodesSeen(access)
  /** @param shared the datasets or registers that are shared with the person */
  const page = <Row extends object>(
    text: string,
    history: (typeof HISTORIES)[number],
    ...shared: (string[] | null)[]
  ): Promise<Row[]> => {
    const at = HISTORIES.indexOf(history)
    return sql.query<Row>(text, [from[at]!, upTo[at]!, units, own, most, ...shared])
  }
  const [cells, reports, questions, entries, cases, definitions] = await Promise.all([
    page<Of & { cell: string; content: CellContent; last: string; version: number }>(
      `SELECT e.seq, p.round, p.unit, e.at, e.cell, e.new AS content, e.id AS last, (SELECT count(*) FROM cell_event b WHERE b.report = e.report AND b.cell = e.cell AND b.seq <= e.seq)::int AS version
       FROM cell_event e JOIN report p ON p.id = e.report WHERE ${OF_REPORTS} ${IN_PAGES}`,
      'cell_event',
      datasets,
    ),
    page<Of & { state: 'draft' | 'sent' | 'sentBack' | 'accepted'; why: string | null }>(
      `SELECT e.seq, p.round, p.unit, e.at, e.to_state AS state, e.why FROM report_event e JOIN report p ON p.id = e.report WHERE ${OF_REPORTS} ${IN_PAGES}`,
      'report_event',
      datasets,
    ),
    page<Asked>(`${QUESTIONS} ${IN_PAGES}`, 'discrepancy_event', datasets, registers),
    page<{ seq: number } & Omit<Extract<DeskEvent, { kind: 'entry' }>, 'kind'>>(
      `SELECT e.seq, ${ENTRY_EVENT}
       FROM case_entry e JOIN case_record c ON c.id = e.case_id
       WHERE e.seq > $1 AND e.seq <= $2 AND ${seenBy('$3')} AND ($4::uuid IS NULL OR e.person = $4) AND ${ofRegisters('$6')} ${IN_PAGES}`,
      'case_entry',
      registers,
    ),
    page<{ seq: number; case: string; brings: boolean }>(
      `SELECT e.seq, e.case_id AS "case", e.act IN ('moved', 'merged') AS brings
       FROM case_event e JOIN case_record c ON c.id = e.case_id
       WHERE e.seq > $1 AND e.seq <= $2 AND e.units && $3::text[] AND ($4::uuid IS NULL OR ${enteredBy('c', '$4')})
         AND ${ofRegisters('$6')} ${IN_PAGES}`,
      'case_event',
      registers,
    ),
    stampOf(sql),
  ])
  const lists = [cells, reports, questions, entries, cases]
  const eventsOf = <Kind extends DeskEvent['kind'], Row extends { seq: number }>(
    kind: Kind,
    rows: readonly Row[],
  ) => rows.map(({ seq, ...row }) => ({ kind, ...row }))
  return {
    at: nowText(),
    // A list that was not cut off has been read to its bound: the next request begins there. A device that
    // comes from a later state than this one, before a backup was put back, stays where it is.
    cursor: lists
      .map((list, at) => (list.length === most ? list.at(-1)!.seq : Math.max(from[at]!, upTo[at]!)))
      .join('.'),
    more: lists.some(list => list.length === most),
    definitions,
    events: [
      ...eventsOf('cell', cells),
      ...eventsOf('report', reports),
      ...questions.map(questionOf),
      ...eventsOf('entry', entries),
      ...(await caseNews(sql, cases, units, own, registers)),
    ],
  }
}
