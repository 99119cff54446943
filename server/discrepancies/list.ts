import type {
  DiscrepancyFilter,
  DiscrepancyLine,
  DiscrepancyList,
  DiscrepancyQuery,
} from '#core/contract/discrepancies'
import type { Static } from '@sinclair/typebox'
import { branchPath, datasetsSeen, filledBy, ofDatasets, unitAsked, type Access } from '../access/access'
import { refreshEffects } from '../checks/effects'
import { editionOf } from '../datasets/editions'
import { database, type Sql } from '../database'
import { openRoundsNow, roundsById } from '../rounds/round'
import { DISCREPANCY_COLUMNS, DISCREPANCY_TABLES, lineOf, type DiscrepancyRow } from './read'

/** How many a page has. */
const PAGE = 100

export const FILTERS: Record<DiscrepancyFilter, string> = {
  unsettled: `d.state <> 'settled'`,
  // What a note says waits for nobody.
  toSettle: `d.state <> 'settled' AND d.strength <> 'note'`,
  mustFix: `d.state <> 'settled' AND d.strength = 'mustFix'`,
  explain: `d.state <> 'settled' AND d.strength = 'explain'`,
  answered: `d.state = 'answered'`,
  settled: `d.state = 'settled'`,
}

/**
 * Effect first; among equals what must be fixed, then by place, so that the order is the same each time. What
 * has no effect comes last.
 */
const orderOf = (discrepancy: string, report: string, effect: string) =>
  `(-coalesce(${effect}.effect, -1), array_position(ARRAY['mustFix', 'explain', 'note'], ${discrepancy}.strength), ${report}.unit_name, ${discrepancy}.id)`

/**
 * For queries: discrepancies `d` in a branch ($1) that a person ($2, when they see only their own) may see: all
 * of some rounds ($3), or the unsettled ones beside those; of some datasets ($4), where not all are shared. Two
 * parts, so that each finds its own index: what was settled long ago is never read.
 */
const scopeOf = (isOfRound: boolean) => {
  const select = `SELECT ${DISCREPANCY_COLUMNS}, ${orderOf('d', 'p', 'e')} AS place FROM ${DISCREPANCY_TABLES}
    WHERE p.path @> $1::text[] AND ($2::uuid IS NULL OR ${filledBy('p', '$2')})
      AND ${ofDatasets('d.round', '$4')}`
  const ofRounds = `${select} AND d.round = ANY($3::text[])`
  return isOfRound
    ? `(${ofRounds}) AS d`
    : `(${select} AND d.state <> 'settled' UNION ALL ${ofRounds} AND d.state = 'settled') AS d`
}

/** Rows as lines, in their order. */
async function linesOf(sql: Pick<Sql, 'query'>, rows: readonly DiscrepancyRow[]): Promise<DiscrepancyLine[]> {
  const roundOf = await roundsById(
    sql,
    rows.map(row => row.round),
  )
  const lines: DiscrepancyLine[] = []
  for (const row of rows) {
    const round = roundOf.get(row.round)!
    lines.push(lineOf(row, round, await editionOf(sql, round.dataset, row.edition)))
  }
  return lines
}

/**
 * A page of the discrepancies of a round (else of all that are unsettled, and of the rounds that are open)
 * within a branch, largest effect on its district first; and how many there are in all.
 */
export async function listDiscrepancies(
  access: Access,
  { round, unit, filter, after }: DiscrepancyQuery,
): Promise<Static<typeof DiscrepancyList>> {
  const sql = await database()
  const branch = unit || access.branch ? (await unitAsked(access, unit)).code : null
  await refreshEffects(branch)
  // As values, not as a part of the query: of a list of unknown length the planner expects too much.
  const rounds = round ? [round] : (await openRoundsNow(sql)).map(({ id }) => id)
  const scope = scopeOf(round !== undefined)
  const asked = [branchPath(branch), access.ownOnly ? access.id : null, rounds, datasetsSeen(access)]
  const [rows, [counts]] = await Promise.all([
    sql.query<DiscrepancyRow>(
      `SELECT * FROM ${scope} WHERE ${filter ? FILTERS[filter] : 'true'}
         AND ($5::uuid IS NULL OR d.place > (SELECT ${orderOf('ad', 'ap', 'ae')} FROM discrepancy ad
           JOIN report ap ON ap.id = ad.report LEFT JOIN discrepancy_effect ae ON ae.discrepancy = ad.id WHERE ad.id = $5))
       ORDER BY d.place LIMIT ${PAGE + 1}`,
      [...asked, after ?? null],
    ),
    sql.query<Static<typeof DiscrepancyList>['counts']>(
      `SELECT ${Object.entries(FILTERS)
        .map(([name, condition]) => `count(*) FILTER (WHERE ${condition}) AS "${name}"`)
        .join(', ')} FROM ${scope}`,
      asked,
    ),
  ])
  return {
    lines: await linesOf(sql, rows.slice(0, PAGE)),
    counts: counts!,
    more: rows.length > PAGE,
  }
}

/**
 * The newest discrepancies about reports about which somebody talked, in a person's branch: those that wait
 * for an answer first.
 */
export async function talkedAbout(access: Access, most: number): Promise<string[]> {
  const sql = await database()
  const rows = await sql.query<{ id: string }>(
    `SELECT d.id FROM discrepancy d JOIN report p ON p.id = d.report
     WHERE d.state IN ('asked', 'answered', 'settled') AND p.path @> $1::text[] AND ($2::uuid IS NULL OR ${filledBy('p', '$2')})
       AND ${ofDatasets('p.round', '$4')}
     ORDER BY array_position(ARRAY['asked', 'answered', 'settled'], d.state), d.found_at DESC, d.id LIMIT $3`,
    [branchPath(access.branch), access.ownOnly ? access.id : null, most, datasetsSeen(access)],
  )
  return rows.map(({ id }) => id)
}
