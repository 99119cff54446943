import { USUAL_CALENDAR } from '#core/calendar/period'
import { compileRuleList } from '#core/rule/compile-rules'
import type { RuleDefinition } from '#core/rule/definition'
import { tryOut, type Past } from '#core/rule/try-out'
import type { Edition } from '#core/report/edition'
import { vocabularyOf } from '#core/expression/vocabulary'
import { must } from '#core/result'
import type { Access } from '../../server/access/access'
import { database, closeDatabase } from '../../server/database'
import { pastOf } from '../../server/reports/past'
import { openRoundsAt } from '../../server/rounds/open-rounds'
import { inTurns, measurement, sweep, type Measurement } from '../measure'

const NOW = Date.parse('2026-11-05T12:00:00Z')
const CELLS_IN_ALL = 60
const item = (code: string) => ({
  code,
  name: { en: code },
  definition: {},
  unitOfMeasure: 'count',
  kind: 'wholeNumber' as const,
  rollUp: 'sum' as const,
  range: null,
  axes: [],
})
const EDITION: Edition = {
  dataset: 'tried',
  number: 1,
  name: { en: 'Tried' },
  frequency: 'month',
  timing: { opensAhead: 0, dueDays: 7, closeDays: 30 },
  axes: [],
  rules: [],
  indicators: [],
  sections: [
    { code: 'all', name: {}, items: Array.from({ length: CELLS_IN_ALL }, (_, at) => item(`item_${at}`)) },
  ],
}
/** A rule of three items that also looks six periods back: the longest that the common checks do. */
const RULE: RuleDefinition = {
  code: 'tried',
  name: {},
  expression: 'item_0 + item_1 <= item_2 and item_2 <= 3 * mean_of_last(item_2, 6)',
  strength: 'explain',
  blanks: 'notJudged',
  forClerk: {},
  forOfficer: {},
}
const BACK = 6
const ROUNDS = 12
const everything: Access = {
  id: '',
  userName: '',
  displayName: '',
  role: 'administrator',
  branch: null,
  ownOnly: false,
  without: [],
  sharing: null,
}

/** Facilities with a year and a half of reports, each of sixty cells, in PGlite in memory. */
async function fill(facilities: number) {
  const sql = await database()
  await sql.transaction(async tx => {
    await tx.query(
      "INSERT INTO unit (code, level) SELECT 'u' || n, CASE WHEN n = 0 THEN 1 ELSE 2 END FROM generate_series(0, $1::int) n",
      [facilities],
    )
    await tx.query(
      `INSERT INTO unit_span (unit, from_day, parent, name, kind, path) SELECT 'u' || n, '2020-01-01', CASE WHEN n > 0 THEN 'u0' END, 'Unit ' || n, 'place', CASE WHEN n > 0 THEN ARRAY['u0', 'u' || n] ELSE ARRAY['u0'] END FROM generate_series(0, $1::int) n`,
      [facilities],
    )
    await tx.query('INSERT INTO dataset (code, name, frequency) VALUES ($1, $2, $3)', [
      'tried',
      EDITION.name,
      'month',
    ])
    await tx.query('INSERT INTO edition (dataset, number, definition, published_at) VALUES ($1, 1, $2, $3)', [
      'tried',
      EDITION,
      '2025-01-01T00:00:00Z',
    ])
    await tx.query('INSERT INTO assignment (dataset, branch, level, from_day) VALUES ($1, $2, 2, $3)', [
      'tried',
      'u0',
      '2025-05-01',
    ])
    await openRoundsAt(tx, NOW, { ...USUAL_CALENDAR, timeZone: 'UTC' })
    await tx.query(
      `INSERT INTO report (round, unit, edition, state) SELECT r.id, 'u' || n, 1, 'accepted' FROM round r, generate_series(1, $1::int) n`,
      [facilities],
    )
    // Numbers that differ from report to report and are the same in each run.
    await tx.query(
      `INSERT INTO cell_value (report, cell, kind, value) SELECT p.id, 'item_' || c, 'value', CASE WHEN c = 2 THEN 120 ELSE 20 END + (p.id * 31 + c * 17) % 41 FROM report p, generate_series(0, $1::int - 1) c`,
      [CELLS_IN_ALL],
    )
    await tx.query('ANALYZE')
  })
}

function judged(past: Past): number {
  const work = tryOut(must(compileRuleList([RULE], vocabularyOf(EDITION))), past)
  for (;;) {
    const step = work.next()
    if (step.done) return step.value.reports
  }
}

/**
 * The same question asked of the database alone: one row a report, three cells joined, the mean of the six
 * before by a window.
 */
const AS_SQL = `
  WITH wide AS (
    SELECT p.unit, r.last_day, max(c.value) FILTER (WHERE c.cell = 'item_0') AS a, max(c.value) FILTER (WHERE c.cell = 'item_1') AS b, max(c.value) FILTER (WHERE c.cell = 'item_2') AS c
    FROM report p JOIN round r ON r.id = p.round JOIN cell_value c ON c.report = p.id WHERE r.dataset = 'tried' AND c.cell IN ('item_0', 'item_1', 'item_2') GROUP BY p.unit, r.last_day),
  looked AS (SELECT *, avg(c) OVER (PARTITION BY unit ORDER BY last_day ROWS BETWEEN 6 PRECEDING AND 1 PRECEDING) AS mean FROM wide)
  SELECT count(*) FILTER (WHERE NOT (a + b <= c AND c <= 3 * mean)) AS fired, count(*) AS reports FROM looked WHERE last_day > '2025-10-31'`

/**
 * From the asking to the result, as the page does it, without the network between: read, carry as JSON,
 * judge, explain.
 */
async function tried(): Promise<void> {
  const past = await pastOf(everything, 'tried', {
    cells: ['item_0', 'item_1', 'item_2'],
    rounds: ROUNDS,
    lookBack: [BACK],
  })
  judged(JSON.parse(JSON.stringify(past)) as Past)
}

/**
 * Trying a rule on 72 and on 1,000 facilities over twelve rounds, against the asked second and five, and
 * against SQL.
 */
export async function tryOuts(): Promise<Measurement[]> {
  const found: Measurement[] = []
  for (const [facilities, asked] of [
    [72, 1],
    [1000, 5],
  ] as const) {
    await fill(facilities)
    const sql = await database()
    sweep()
    const took = await inTurns({ ours: tried, sql: () => sql.query(AS_SQL) }, 3)
    found.push(
      measurement(`try a rule, ${facilities} × ${ROUNDS}`, took.ours / 1000, asked, 'what is asked', 's', 1),
    )
    found.push(
      measurement(`the same, ${facilities} × ${ROUNDS}`, took.ours, took.sql, 'one SQL statement', 'ms', 3),
    )
    await closeDatabase()
  }
  return found
}
