import type { Access } from '../../server/access/access'
import { listCases } from '../../server/cases/list'
import { listPairs } from '../../server/cases/pair-list'
import { caseFile } from '../../server/cases/file'
import { caseCounts } from '../../server/case-counts/compare'
import type { Parameter } from '../../server/database'
import { forgetFile, importAndUndo, lookAtFile, readPlainly, writePlainly } from './files'
import { copyPlainly, takeOut } from './extracts'
import { arrive, arrivePlainly, caseOf, undone } from './arrival'
import { deskWork } from '../../server/desk/work'
import { listDiscrepancies } from '../../server/discrepancies/list'
import { board } from '../../server/overview/board'
import { reportingOverTime } from '../../server/overview/over-time'
import { today } from '../../server/overview/today'
import { pastOf } from '../../server/reports/past'
import { search } from '../../server/search/search'

/** The province of `npm run demo:large`. */
export const NEWEST = 'monthly_summary~2026-10'
const DISTRICT = 'd01'
const ZONE = 'd01_z1'
const FACILITY = 'd01_z1_f01'
const CELLS = ['new_visits.u1.f', 'new_visits.u1.m', 'days_open']

export type Statements = [text: string, params: Parameter[]][]

/**
 * One question that somebody asks of the server, and the plainest statements that bring from the database what
 * the answer says: no permission, no dated tree, no rules, nothing made of the rows.
 */
export interface Question {
  name: string
  /** Who asks over HTTP, and what; left out where the asking changes something. */
  http?: { userName: string; path: string; body?: object }
  ask: () => Promise<unknown>
  plain: Statements | (() => Promise<unknown>)
  /** Where something else is asked for than three times the plain way: so long it may take, and what that is. */
  allowed?: (plain: number) => { ms: number; said: string }
}

/** So many rows a second an extract writes at least, by its format. */
const ROWS_A_SECOND = { csv: 100_000, xlsx: 10_000 } as const
/** So long the look at a file of 1,000 reports may take, in milliseconds. */
const LOOK_MS = 5_000

/** All questions of the table, as the people of the province ask them. */
export function questions(person: (userName: string) => Access): Question[] {
  const [admin, officer, clerk] = [
    person('admin'),
    person(`officer.${DISTRICT}`),
    person(`clerk.${FACILITY}`),
  ]
  const now = '2026-11-09T10:45:00Z'
  let rows = 0
  const oneCase = caseOf(0)
  /** What a round against its registers shows: the cell of each report, and how many cases its facility has. */
  const heldRows = (unit: string): Statements => [
    [
      `SELECT p.unit, p.unit_name, p.state, v.value FROM report p
       LEFT JOIN cell_value v ON v.report = p.id AND v.cell = 'live_births.f'
       WHERE p.round = $1 AND p.path @> $2::text[] AND p.first_received_at IS NOT NULL`,
      [NEWEST, of(unit)],
    ],
    [
      `SELECT c.unit, count(*) FROM case_record c JOIN unit_latest u ON u.code = c.unit
       WHERE c.register = 'newborns' AND u.path @> $1::text[] AND c.known -> 'baby_sex' ->> 'value' = 'f'
         AND c.known -> 'baby_born_on' ->> 'value' BETWEEN '2026-10-01' AND '2026-10-31' GROUP BY c.unit`,
      [of(unit)],
    ],
  ]
  const of = (unit: string) => [unit]
  /** What a list of discrepancies shows: the first hundred, and how many there are. */
  const doubts = (unit: string): Statements => [
    [
      `SELECT d.id, d.state, d.strength, d.evidence, p.unit, p.unit_name, e.effect FROM discrepancy d JOIN report p ON p.id = d.report
       LEFT JOIN discrepancy_effect e ON e.discrepancy = d.id WHERE p.path @> $1::text[] AND d.state <> 'settled' ORDER BY e.effect DESC NULLS LAST LIMIT 100`,
      [of(unit)],
    ],
    [
      `SELECT d.state, d.strength, count(*) FROM discrepancy d JOIN report p ON p.id = d.report WHERE p.path @> $1::text[] AND d.state <> 'settled' GROUP BY 1, 2`,
      [of(unit)],
    ],
  ]
  const units = (unit: string): Statements[number] => [
    `SELECT l.code, l.name, l.parent, z.name AS zone FROM unit_latest l JOIN unit_latest z ON z.code = l.parent WHERE l.level = 4 AND l.path @> $1::text[] ORDER BY z.name, l.name`,
    [of(unit)],
  ]
  const todayRows = (unit: string): Statements => [
    ['SELECT id, dataset, period, due_at FROM round WHERE opens_at <= $1 AND closes_at > $1', [now]],
    units(unit),
    [
      `SELECT p.unit, p.round, p.state, p.first_received_at FROM report p JOIN round r ON r.id = p.round WHERE r.opens_at <= $2 AND r.closes_at > $2 AND p.path @> $1::text[]`,
      [of(unit), now],
    ],
    [
      `SELECT p.round, d.strength, d.state, count(*) FROM discrepancy d JOIN report p ON p.id = d.report JOIN round r ON r.id = p.round
       WHERE r.closes_at > $2 AND p.path @> $1::text[] AND d.state <> 'settled' GROUP BY 1, 2, 3`,
      [of(unit), now],
    ],
  ]
  const boardRows = (unit: string): Statements => [
    units(unit),
    [
      `SELECT p.unit, p.round, p.state FROM report p JOIN round r ON r.id = p.round WHERE r.dataset = 'monthly_summary' AND r.last_day > '2025-10-31' AND p.path @> $1::text[]`,
      [of(unit)],
    ],
    [
      `SELECT unit, state, received_at, first_received_at, answered, not_offered FROM report WHERE round = $1 AND path @> $2::text[]`,
      [NEWEST, of(unit)],
    ],
    [
      `SELECT p.unit, d.strength, count(*) FROM discrepancy d JOIN report p ON p.id = d.report WHERE p.round = $1 AND p.path @> $2::text[] AND d.state <> 'settled' GROUP BY 1, 2`,
      [NEWEST, of(unit)],
    ],
  ]
  /** What reporting over a year shows: the facilities, and what came of each in twelve rounds. */
  const yearRows = (unit: string): Statements => [
    units(unit),
    [
      `SELECT p.unit, p.round, p.state, p.first_received_at, p.answered, p.not_offered FROM report p JOIN round r ON r.id = p.round
       WHERE r.dataset = 'monthly_summary' AND r.last_day > '2025-10-31' AND p.path @> $1::text[]`,
      [of(unit)],
    ],
  ]
  /** Every list of cases says of how many it shows some. */
  const caseCount = (unit: string): Statements[number] => [
    `SELECT count(*) FROM case_record c JOIN unit_latest u ON u.code = c.unit WHERE u.path @> $1::text[]`,
    [of(unit)],
  ]
  const caseRows = (unit: string): Statements => [
    [
      `WITH page AS (SELECT c.id, c.last_on FROM case_record c JOIN unit_latest u ON u.code = c.unit WHERE u.path @> $1::text[] ORDER BY c.last_on DESC LIMIT 50)
       SELECT e.case_id, e.form, e.answers, e.happened_on, page.last_on FROM page JOIN case_entry e ON e.case_id = page.id`,
      [of(unit)],
    ],
    caseCount(unit),
  ]
  return [
    {
      name: 'Today, of the region',
      http: { userName: admin.userName, path: '/api/today?unit=west_reach' },
      ask: () => today(admin, 'west_reach'),
      plain: todayRows('west_reach'),
    },
    {
      name: 'Today, of a district',
      http: { userName: officer.userName, path: '/api/today' },
      ask: () => today(officer),
      plain: todayRows(DISTRICT),
    },
    {
      name: 'discrepancies of the region',
      http: { userName: admin.userName, path: '/api/discrepancies?unit=west_reach' },
      ask: () => listDiscrepancies(admin, { unit: 'west_reach' }),
      plain: doubts('west_reach'),
    },
    {
      name: 'discrepancies of a district',
      http: { userName: officer.userName, path: '/api/discrepancies' },
      ask: () => listDiscrepancies(officer, {}),
      plain: doubts(DISTRICT),
    },
    {
      name: 'the board of the region',
      http: { userName: admin.userName, path: `/api/rounds/${NEWEST}/board?unit=west_reach` },
      ask: () => board(admin, NEWEST, 'west_reach'),
      plain: boardRows('west_reach'),
    },
    {
      name: 'the board of a district',
      http: { userName: officer.userName, path: `/api/rounds/${NEWEST}/board` },
      ask: () => board(officer, NEWEST),
      plain: boardRows(DISTRICT),
    },
    {
      name: 'a year of the region over time',
      http: { userName: admin.userName, path: `/api/rounds/${NEWEST}/over-time?unit=west_reach` },
      ask: () => reportingOverTime(admin, NEWEST, { unit: 'west_reach' }),
      plain: yearRows('west_reach'),
    },
    {
      name: 'a year of a district over time',
      http: { userName: officer.userName, path: `/api/rounds/${NEWEST}/over-time` },
      ask: () => reportingOverTime(officer, NEWEST, {}),
      plain: yearRows(DISTRICT),
    },
    {
      name: 'search, one key',
      http: { userName: admin.userName, path: '/api/search?q=amb' },
      ask: () => search(admin, 'amb'),
      plain: [
        [`SELECT code, name, path FROM unit_latest WHERE name ILIKE '%amb%' LIMIT 6`, []],
        [
          `SELECT code, name FROM unit_latest WHERE code IN (
             SELECT unnest(path) FROM (SELECT path FROM unit_latest WHERE name ILIKE '%amb%' LIMIT 6) u)`,
          [],
        ],
        [
          'SELECT r.id, r.period, d.name FROM round r JOIN dataset d ON d.code = r.dataset ORDER BY r.last_day DESC',
          [],
        ],
        [`SELECT DISTINCT ON (dataset) dataset, definition FROM edition ORDER BY dataset, number DESC`, []],
        [
          `SELECT c.id, c.register, c.known, u.name FROM case_record c JOIN unit_latest u ON u.code = c.unit
           WHERE c.search_text LIKE '%amb%' ORDER BY c.last_on DESC LIMIT 6`,
          [],
        ],
        [
          `SELECT p.user_name, p.display_name, u.name FROM person p LEFT JOIN unit_latest u ON u.code = p.branch
           WHERE p.display_name ILIKE '%amb%' OR p.user_name ILIKE '%amb%' LIMIT 6`,
          [],
        ],
      ],
    },
    {
      name: 'cases of the region',
      http: { userName: admin.userName, path: '/api/cases?unit=west_reach' },
      ask: () => listCases(admin, { unit: 'west_reach' }),
      plain: caseRows('west_reach'),
    },
    {
      name: 'cases of a district',
      http: { userName: officer.userName, path: '/api/cases' },
      ask: () => listCases(officer, {}),
      plain: caseRows(DISTRICT),
    },
    {
      name: 'cases of the region, by an answer',
      http: {
        userName: admin.userName,
        path: '/api/cases?unit=west_reach&register=newborns&answers=baby_sex%3Df%26birth_weight.to%3D2500&sort=birth_weight',
      },
      ask: () =>
        listCases(admin, {
          unit: 'west_reach',
          register: 'newborns',
          answers: 'baby_sex=f&birth_weight.to=2500',
          sort: 'birth_weight',
        }),
      plain: [
        [
          `SELECT c.id, c.known FROM case_record c JOIN unit_latest u ON u.code = c.unit WHERE u.path @> $1::text[] AND c.register = 'newborns'
           AND c.known -> 'baby_sex' ->> 'value' = 'f' AND (c.known -> 'birth_weight' ->> 'value')::float8 <= 2500
           ORDER BY (c.known -> 'birth_weight' ->> 'value')::float8 DESC LIMIT 50`,
          [of('west_reach')],
        ],
        caseCount('west_reach'),
      ],
    },
    {
      name: 'cases of the region, searched',
      http: { userName: admin.userName, path: '/api/cases?unit=west_reach&find=quiley' },
      ask: () => listCases(admin, { unit: 'west_reach', find: 'quiley' }),
      plain: [
        [
          `SELECT c.id, c.known FROM case_record c WHERE c.search_text LIKE '%quiley%' ORDER BY c.last_on DESC LIMIT 50`,
          [],
        ],
        caseCount('west_reach'),
      ],
    },
    {
      name: 'pairs of a district',
      http: { userName: officer.userName, path: '/api/case-pairs' },
      ask: () => listPairs(officer, {}),
      plain: [
        [
          `SELECT p.* FROM case_pair p JOIN unit_latest u ON u.code = p.one_unit JOIN unit_latest v ON v.code = p.other_unit
           WHERE p.state = 'open' AND (u.path @> $1::text[] OR v.path @> $1::text[]) ORDER BY p.score DESC LIMIT 30`,
          [of(DISTRICT)],
        ],
        [
          `SELECT p.state, count(*) FROM case_pair p JOIN unit_latest u ON u.code = p.one_unit JOIN unit_latest v ON v.code = p.other_unit
           WHERE u.path @> $1::text[] OR v.path @> $1::text[] GROUP BY 1`,
          [of(DISTRICT)],
        ],
      ],
    },
    {
      name: 'one case',
      http: { userName: officer.userName, path: `/api/cases/${oneCase}` },
      ask: () => caseFile(officer, oneCase),
      plain: [
        [
          `SELECT c.*, u.name AS unit_name, r.definition FROM case_record c JOIN unit_latest u ON u.code = c.unit
           JOIN register_edition r ON r.register = c.register WHERE c.id = $1 ORDER BY r.number`,
          [oneCase],
        ],
        [
          `SELECT e.*, p.display_name, d.name AS device_name FROM case_entry e JOIN person p ON p.id = e.person
           LEFT JOIN device d ON d.id = e.device WHERE e.case_id = $1 ORDER BY e.seq`,
          [oneCase],
        ],
        [
          `SELECT e.*, p.display_name, f.name AS from_name, t.name AS to_name FROM case_event e JOIN person p ON p.id = e.person
           LEFT JOIN unit_latest f ON f.code = e.from_unit LEFT JOIN unit_latest t ON t.code = e.to_unit WHERE e.case_id = $1`,
          [oneCase],
        ],
        // Who opens the file of a case is noted.
        [
          `INSERT INTO case_opening AS o (case_id, person, day, first_at, last_at) VALUES ($1, $2, '2026-11-08', now(), now())
           ON CONFLICT (case_id, person, day) DO UPDATE SET last_at = EXCLUDED.last_at, times = o.times + 1`,
          [oneCase, officer.id],
        ],
      ],
    },
    {
      name: 'a round of a district against its register',
      http: { userName: officer.userName, path: `/api/rounds/${NEWEST}/case-counts` },
      ask: () => caseCounts(officer, NEWEST, {}),
      plain: heldRows(DISTRICT),
    },
    {
      name: 'a round of the region against its register',
      http: { userName: admin.userName, path: `/api/rounds/${NEWEST}/case-counts?unit=west_reach` },
      ask: () => caseCounts(admin, NEWEST, { unit: 'west_reach' }),
      plain: heldRows('west_reach'),
    },
    {
      name: 'a case arrives, and is compared and judged',
      ask: () => undone(tx => arrive(tx, clerk)),
      plain: () => undone(arrivePlainly),
    },
    {
      name: 'a file of the region, looked at',
      ask: async () => forgetFile(await lookAtFile(admin, NEWEST, 'west_reach')),
      plain: () => readPlainly(admin, NEWEST, 'west_reach'),
      allowed: () => ({ ms: LOOK_MS, said: 'what is asked' }),
    },
    {
      name: 'a file of a zone, taken in and back',
      ask: () => importAndUndo(admin, NEWEST, ZONE),
      plain: () => undone(tx => writePlainly(tx, NEWEST, ZONE)),
    },
    {
      name: 'an extract of nine months of cells, as CSV',
      ask: async () => (rows = await takeOut(admin, 'csv', '2026-02-01')),
      plain: () => copyPlainly('2026-02-01'),
      allowed: plain => {
        const asked = (rows / ROWS_A_SECOND.csv) * 1000
        return plain * 2 > asked
          ? { ms: plain * 2, said: 'twice COPY' }
          : { ms: asked, said: '100,000 rows/s' }
      },
    },
    {
      name: 'an extract of one month of cells, as XLSX',
      ask: async () => (rows = await takeOut(admin, 'xlsx', '2026-10-01')),
      plain: () => copyPlainly('2026-10-01'),
      allowed: () => ({ ms: (rows / ROWS_A_SECOND.xlsx) * 1000, said: '10,000 rows/s' }),
    },
    {
      name: 'the work of one telephone',
      http: { userName: clerk.userName, path: '/api/desk/work' },
      ask: () => deskWork(clerk),
      plain: [
        [`SELECT * FROM report p JOIN round r ON r.id = p.round WHERE p.unit = $1`, [FACILITY]],
        // The newest seven reports, and the thirteen periods that each looks back at.
        [
          `SELECT p.id, v.cell, v.kind, v.value, v.version FROM report p JOIN round r ON r.id = p.round JOIN cell_value v ON v.report = p.id
           WHERE p.unit = $1 AND r.last_day > '2025-03-01'`,
          [FACILITY],
        ],
        [`SELECT d.* FROM discrepancy d JOIN report p ON p.id = d.report WHERE p.unit = $1`, [FACILITY]],
        [`SELECT definition FROM edition WHERE dataset = 'monthly_summary'`, []],
      ],
    },
    {
      name: 'past of 3 cells in 12 rounds',
      http: {
        userName: admin.userName,
        path: '/api/drafts/monthly_summary/past',
        body: { cells: CELLS, rounds: 12, lookBack: [1] },
      },
      ask: () => pastOf(admin, 'monthly_summary', { cells: CELLS, rounds: 12, lookBack: [] }),
      plain: [
        [
          `SELECT v.cell, p.unit, r.period, v.value FROM report p JOIN round r ON r.id = p.round JOIN cell_value v ON v.report = p.id
           WHERE r.last_day > '2025-10-31' AND p.state IN ('sent', 'accepted') AND v.cell = ANY($1::text[])`,
          [CELLS],
        ],
      ],
    },
  ]
}
