import { v7 as uuid } from 'uuid'
import type { Doubt } from '#core/rule/find-doubts'
import { nowText } from '../clock'
import type { Sql } from '../database'

/** What a discrepancy is about. */
export type About = { report: number; round: string } | { case: string }

/** A doubt as it was found now. */
export interface FoundDoubt {
  doubt: Doubt
  /** What is stored with it: the doubt with its numbers, and what helps to work on it. */
  evidence: object
  /** The values that it is about. An explanation holds for these. */
  contents: Readonly<Record<string, unknown>>
  /** The facility's sentence about it, when it came along. */
  explanation: string | null
}

/** A discrepancy as it is known, as far as finding its doubt again matters. */
export interface KnownDiscrepancy {
  id: string
  doubt_key: string
  state: string
  holds: boolean
  contents: object
}

/** For queries: the columns of a {@link KnownDiscrepancy}. */
export const KNOWN_DISCREPANCY = 'id, doubt_key, state, holds, contents'

/** The discrepancy of a doubt about a report that holds; null where there is none. */
export async function holdingDiscrepancy(
  sql: Pick<Sql, 'query'>,
  report: number,
  doubtKey: string,
): Promise<string | null> {
  const [row] = await sql.query<{ id: string }>(
    'SELECT id FROM discrepancy WHERE report = $1 AND doubt_key = $2 AND holds',
    [report, doubtKey],
  )
  return row?.id ?? null
}

/** Adds an event to the thread of a discrepancy. */
export async function noteDiscrepancy(
  sql: Sql,
  discrepancy: string,
  act: string,
  person: string | null,
  text: string | null,
): Promise<void> {
  await sql.query(
    'INSERT INTO discrepancy_event (discrepancy, at, person, act, text) VALUES ($1, $2, $3, $4, $5)',
    [discrepancy, nowText(), person, act, text],
  )
}

async function openDiscrepancy(sql: Sql, about: About, found: FoundDoubt, person: string | null) {
  const { doubt, evidence, contents, explanation } = found
  const id = uuid()
  const [report, round, caseId] =
    'case' in about ? [null, null, about.case] : [about.report, about.round, null]
  await sql.query(
    `INSERT INTO discrepancy (id, report, round, case_id, doubt_key, source, code, band, strength,
       cells, state, evidence, contents, found_at)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10::text[], $11, $12, $13, $14)`,
    [
      id,
      report,
      round,
      caseId,
      doubt.key,
      doubt.source,
      doubt.code,
      doubt.band,
      doubt.strength,
      doubt.cells,
      explanation ? 'answered' : 'open',
      evidence,
      contents,
      nowText(),
    ],
  )
  await noteDiscrepancy(sql, id, 'found', null, null)
  if (explanation) await noteDiscrepancy(sql, id, 'explained', person, explanation)
}

/**
 * Saves the doubts that were found about one report or case: new ones open, and a settled one whose values
 * changed lapses, because an explanation holds only for the values it explained.
 *
 * @param known its discrepancies so far
 * @param isUnchanged do the values say now what they said when the discrepancy was last found?
 * @returns those whose doubt was there and is gone: the caller says what becomes of them
 */
export async function saveFound(
  sql: Sql,
  about: About,
  known: readonly KnownDiscrepancy[],
  found: readonly FoundDoubt[],
  isUnchanged: (before: object, now: object) => boolean,
  person: string | null,
): Promise<string[]> {
  const byKey = new Map(known.map(row => [row.doubt_key, row]))
  for (const one of found) {
    const before = byKey.get(one.doubt.key)
    byKey.delete(one.doubt.key)
    if (!before) {
      await openDiscrepancy(sql, about, one, person)
      continue
    }
    const { evidence, contents, explanation } = one
    const lapses = before.state === 'settled' && (!before.holds || !isUnchanged(before.contents, contents))
    const isSettled = before.state === 'settled' && !lapses
    const state = isSettled ? 'settled' : explanation ? 'answered' : lapses ? 'lapsed' : before.state
    await sql.query(
      `UPDATE discrepancy SET holds = true, state = $2, outcome = CASE WHEN $2 = 'settled' THEN outcome END,
         evidence = $3, contents = $4 WHERE id = $1`,
      [before.id, state, evidence, contents],
    )
    if (lapses) await noteDiscrepancy(sql, before.id, 'lapsed', null, null)
    if (explanation && !isSettled) await noteDiscrepancy(sql, before.id, 'explained', person, explanation)
  }
  return [...byKey.values()].filter(({ holds }) => holds).map(({ id }) => id)
}
