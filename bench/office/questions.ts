import type { Access } from '../../server/access/access'
import { listCases } from '../../server/cases/list'
import type { Parameter } from '../../server/database'
import { deskWork } from '../../server/desk/work'
import { listDiscrepancies } from '../../server/discrepancies/list'
import { board } from '../../server/overview/board'
import { today } from '../../server/overview/today'
import { pastOf } from '../../server/reports/past'
import { search } from '../../server/search/search'

/** The province of `npm run demo:large`. */
export const NEWEST = 'monthly_summary~2026-10'
const DISTRICT = 'd01'
const FACILITY = 'd01_z1_f01'
const CELLS = ['new_visits.u1.f', 'new_visits.u1.m', 'days_open']

/** One question that somebody asks of the server, and the plainest statement that answers it. */
export interface Question {
  name: string
  ask: () => Promise<unknown>
  plain: [text: string, params: Parameter[]]
}

/** All questions of the table, as the people of the province ask them. */
export function questions(person: (userName: string) => Access): Question[] {
  const [admin, officer, clerk] = [
    person('admin'),
    person(`officer.${DISTRICT}`),
    person(`clerk.${FACILITY}`),
  ]
  const doubts = `SELECT d.id, d.state, d.strength, d.evidence, p.unit FROM discrepancy d JOIN report p ON p.id = d.report
    JOIN unit_latest u ON u.code = p.unit WHERE u.path @> $1::text[] AND d.state <> 'settled'`
  const counts = `SELECT p.round, p.state, count(*) FROM report p JOIN round r ON r.id = p.round JOIN unit_latest u ON u.code = p.unit
    WHERE r.opens_at <= $2 AND r.closes_at > $2 AND u.path @> $1::text[] GROUP BY p.round, p.state`
  const states = `SELECT p.unit, p.state, p.received_at FROM report p JOIN unit_latest u ON u.code = p.unit WHERE p.round = $1 AND u.path @> $2::text[]`
  const cases = `SELECT c.id, c.unit, max(e.happened_on) FROM case_record c JOIN case_entry e ON e.case_id = c.id JOIN unit_latest u ON u.code = c.unit
    WHERE u.path @> $1::text[] GROUP BY c.id ORDER BY 3 DESC LIMIT 50`
  return [
    {
      name: 'Today, of the region',
      ask: () => today(admin, 'west_reach'),
      plain: [counts, [['west_reach'], '2026-11-09T10:45:00Z']],
    },
    {
      name: 'Today, of a district',
      ask: () => today(officer),
      plain: [counts, [[DISTRICT], '2026-11-09T10:45:00Z']],
    },
    {
      name: 'discrepancies of the region',
      ask: () => listDiscrepancies(admin, { unit: 'west_reach' }),
      plain: [doubts, [['west_reach']]],
    },
    {
      name: 'discrepancies of a district',
      ask: () => listDiscrepancies(officer, {}),
      plain: [doubts, [[DISTRICT]]],
    },
    {
      name: 'the board of the region',
      ask: () => board(admin, NEWEST, 'west_reach'),
      plain: [states, [NEWEST, ['west_reach']]],
    },
    {
      name: 'the board of a district',
      ask: () => board(officer, NEWEST),
      plain: [states, [NEWEST, [DISTRICT]]],
    },
    {
      name: 'search, one key',
      ask: () => search(admin, 'amb'),
      plain: [`SELECT code, name FROM unit_latest WHERE name ILIKE '%amb%' LIMIT 6`, []],
    },
    {
      name: 'cases of the region',
      ask: () => listCases(admin, { unit: 'west_reach' }),
      plain: [cases, [['west_reach']]],
    },
    {
      name: 'cases of a district',
      ask: () => listCases(officer, {}),
      plain: [cases, [[DISTRICT]]],
    },
    {
      name: 'the work of one telephone',
      ask: () => deskWork(clerk),
      plain: [
        `SELECT p.id, p.round, p.state, array_agg(v.cell), array_agg(v.value) FROM report p JOIN round r ON r.id = p.round
         JOIN cell_value v ON v.report = p.id WHERE p.unit = $1 AND r.last_day > '2026-04-01' GROUP BY p.id`,
        [FACILITY],
      ],
    },
    {
      name: 'past of 3 cells in 12 rounds',
      ask: () => pastOf(admin, 'monthly_summary', { cells: CELLS, rounds: 12, lookBack: [] }),
      plain: [
        `SELECT v.cell, p.unit, r.period, v.value FROM report p JOIN round r ON r.id = p.round JOIN cell_value v ON v.report = p.id
         WHERE r.last_day > '2025-10-31' AND p.state IN ('sent', 'accepted') AND v.cell = ANY($1::text[])`,
        [CELLS],
      ],
    },
  ]
}
