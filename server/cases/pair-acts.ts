import { conflict, notFound, outsideBranch, Refusal } from '../refusal'
import { nowText } from '../clock'
import { holds } from '../access/branch'
import type { Access } from '../access/access'
import { database, type Sql } from '../database'
import { noteCaseEvents, shareCases } from './case-events'
import { forgetBlocks } from './match'
import { lockCases } from './lock-cases'
import { writeKnown } from './known'

interface PairRow {
  id: string
  one: string
  other: string
  state: string
  /** Is one of the two part of another case? */
  isMerged: boolean
}

/**
 * The pair and its two cases, locked, for somebody who may decide about both. @throws Refusal 404, 403 where
 * one of them is another branch's
 */
async function lockedPair(tx: Sql, access: Access, id: string): Promise<PairRow> {
  const [found] = await tx.query<PairRow>('SELECT id, one, other, state FROM case_pair WHERE id = $1', [id])
  if (!found) throw notFound('pair')
  const places = await tx.query<{ path: string[] }>(
    'SELECT u.path FROM case_record c JOIN unit_latest u ON u.code = c.unit WHERE c.id IN ($1, $2)',
    [found.one, found.other],
  )
  if (!places.every(({ path }) => holds(access.branch, path))) throw outsideBranch()
  await lockCases(tx, [found.one, found.other])
  await tx.query('SELECT id FROM case_record WHERE id IN ($1, $2) ORDER BY id FOR UPDATE', [
    found.one,
    found.other,
  ])
  const [pair] = await tx.query<PairRow>(
    `SELECT id, one, other, state, EXISTS (SELECT 1 FROM case_record c WHERE c.id IN (p.one, p.other) AND c.merged_into IS NOT NULL) AS "isMerged"
     FROM case_pair p WHERE id = $1 FOR UPDATE`,
    [id],
  )
  return pair!
}

const noteDecision = (
  tx: Sql,
  pair: string,
  access: Access,
  act: 'merged' | 'apart' | 'undone',
  kept: string | null,
  text = '',
) =>
  tx.query(
    'INSERT INTO case_pair_event (pair, at, person, act, kept, text) VALUES ($1, $2, $3, $4, $5, $6)',
    [pair, nowText(), access.id, act, kept, text],
  )

const wrongState = () =>
  conflict('pair-state', 'Somebody has decided about these two meanwhile. Look at them again.')

const mergedSince = () =>
  conflict('pair-merged-since', 'One of the two is part of another case. Look at that one first.')

/**
 * Two cases are one: the other one becomes part of the kept one. Both keep their entries as they were filled;
 * contacts, counts and lists follow the kept one from now on.
 * @throws Refusal 403, 404, 409 `pair-state`, `pair-merged-since`, 422 `pair-case`
 */
export async function mergePair(access: Access, id: string, kept: string): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    const pair = await lockedPair(tx, access, id)
    if (kept !== pair.one && kept !== pair.other)
      throw new Refusal(422, 'pair-case', 'The case to keep is neither of the two.')
    if (pair.state !== 'open') throw wrongState()
    if (pair.isMerged) throw mergedSince()
    const merged = kept === pair.one ? pair.other : pair.one
    await tx.query(`UPDATE case_pair SET state = 'merged' WHERE id = $1`, [id])
    await tx.query('UPDATE case_record SET merged_into = $2 WHERE id = $1', [merged, kept])
    await forgetBlocks(tx, merged)
    await shareCases(tx, [kept])
    await writeKnown(tx, [kept, merged])
    await noteCaseEvents(tx, { person: access.id, device: null }, [{ case: merged, act: 'merged' }])
    await noteDecision(tx, id, access, 'merged', kept)
  })
}

/**
 * Two cases are two: they are not asked about again, whatever is corrected later. @throws Refusal 403, 404,
 * 409 `pair-state`
 */
export async function keepApart(access: Access, id: string, text: string): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    const pair = await lockedPair(tx, access, id)
    if (pair.state !== 'open') throw wrongState()
    await tx.query(`UPDATE case_pair SET state = 'apart' WHERE id = $1`, [id])
    await noteDecision(tx, id, access, 'apart', null, text.trim())
  })
}

/**
 * Takes a decision back: the pair is open again, and a merged case stands by itself with its own entries.
 * @throws Refusal 403, 404, 409 `pair-state`; 409 `pair-merged-since` while the kept one is part of another
 */
export async function undoPair(access: Access, id: string): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    const pair = await lockedPair(tx, access, id)
    if (pair.state !== 'merged' && pair.state !== 'apart') throw wrongState()
    await tx.query(`UPDATE case_pair SET state = 'open' WHERE id = $1`, [id])
    if (pair.state === 'merged') {
      const [merged] = await tx.query<{ id: string; kept: string }>(
        'UPDATE case_record SET merged_into = NULL WHERE (id = $1 AND merged_into = $2) OR (id = $2 AND merged_into = $1) RETURNING id',
        [pair.one, pair.other],
      )
      if (!merged) throw mergedSince()
      const kept = merged.id === pair.one ? pair.other : pair.one
      const both = [merged.id, kept]
      const told = await shareCases(tx, both)
      await writeKnown(tx, both)
      const events = both.map(one => ({ case: one, act: 'takenOut' as const }))
      await noteCaseEvents(tx, { person: access.id, device: null }, events, told)
    }
    await noteDecision(tx, id, access, 'undone', null)
  })
}
