import { v7 as uuid } from 'uuid'
import { caseOfKnown } from '#core/cases/fold'
import type { CaseRegister } from '#core/cases/register'
import { groupBy } from '#core/group-by'
import { keysOf } from '#core/matching/blocks'
import { likeness, LIKELY } from '#core/matching/score'
import { subjectOf, type Subject } from '#core/matching/subject'
import { nowText } from '../clock'
import type { Sql } from '../database'
import { lockBlocks } from '../database/locks'
import type { KnownOfCase } from './fold-known'

/**
 * A block of more cases says too little to look at each while a device waits: sixty that are all called “Made
 * up” would be pairs without end.
 */
const LARGEST_HERE = 60
/** A case has so many pairs at the most: the likeliest. */
const MOST_PAIRS = 10

/** Are the cases of a register compared? Only where it says by what a subject is known. */
const isMatched = ({ subject, identity }: CaseRegister): boolean =>
  subject === 'person' && (identity.name !== undefined || identity.identifiers.length > 0)

/** Who a case is about, by what is kept of it. */
const subjectOfKnown = (register: CaseRegister, { id, known }: Pick<KnownOfCase, 'id' | 'known'>): Subject =>
  subjectOf(register, caseOfKnown(id, known))

/** Writes the block keys of some cases of one register, in the place of those that they had. */
async function writeBlocks(sql: Sql, register: string, subjects: readonly Subject[]): Promise<string[]> {
  const rows = subjects.flatMap(subject =>
    [...new Set(keysOf(subject))].map(key => ({ key, id: subject.id })),
  )
  await Promise.all([
    lockBlocks(
      sql,
      rows.map(({ key }) => `${register} ${key}`),
    ),
    sql.query('DELETE FROM case_block WHERE case_id = ANY($1::uuid[])', [subjects.map(({ id }) => id)]),
    sql.query(
      'INSERT INTO case_block (register, key, case_id) SELECT $1, key, id FROM unnest($2::text[], $3::uuid[]) AS given (key, id)',
      [register, rows.map(({ key }) => key), rows.map(({ id }) => id)],
    ),
  ])
  return [...new Set(rows.map(({ key }) => key))]
}

/** The cases of some blocks, by key. A block of too many says too little, and is left out. */
async function casesInBlocks(
  sql: Pick<Sql, 'query'>,
  register: string,
  keys: readonly string[],
): Promise<ReadonlyMap<string, string[]>> {
  // Counted no further than it matters. Two plain questions: the planner answers both by the index, always.
  const small = await sql.query<{ key: string }>(
    `SELECT k.key FROM unnest($2::text[]) AS k (key)
     WHERE (SELECT count(*) FROM (SELECT 1 FROM case_block b WHERE b.register = $1 AND b.key = k.key LIMIT ${LARGEST_HERE + 1}) AS few) BETWEEN 2 AND ${LARGEST_HERE}`,
    [register, keys],
  )
  const rows = await sql.query<{ key: string; id: string }>(
    'SELECT key, case_id AS id FROM case_block WHERE register = $1 AND key = ANY($2::text[])',
    [register, small.map(({ key }) => key)],
  )
  return new Map([...groupBy(rows, ({ key }) => key)].map(([key, own]) => [key, own.map(({ id }) => id)]))
}

/** The subjects of some cases, from what is known of them. */
async function subjectsOf(
  sql: Pick<Sql, 'query'>,
  register: CaseRegister,
  ids: readonly string[],
): Promise<Map<string, Subject>> {
  if (!ids.length) return new Map()
  const rows = await sql.query<Pick<KnownOfCase, 'id' | 'known'>>(
    'SELECT id, known FROM case_record WHERE id = ANY($1::uuid[])',
    [ids],
  )
  return new Map(rows.map(row => [row.id, subjectOfKnown(register, row)]))
}

/** Two cases that may be one subject, and why. */
interface LikelyPair {
  one: string
  other: string
  score: number
  parts: object
}

const unitOf = (id: string) => `(SELECT c.unit FROM case_record c WHERE c.id = ${id})`

/** Opens pairs, or brings those that are known up to date. */
async function writePairs(sql: Sql, register: string, pairs: readonly LikelyPair[]): Promise<void> {
  await sql.query(
    `INSERT INTO case_pair (id, register, one, other, one_unit, other_unit, score, parts, found_at)
     SELECT given.id, $1, one, other, ${unitOf('one')}, ${unitOf('other')}, score, parts, $2
     FROM unnest($3::uuid[], $4::uuid[], $5::uuid[], $6::float8[], $7::jsonb[]) AS given (id, one, other, score, parts)
     ON CONFLICT (one, other) DO UPDATE SET score = EXCLUDED.score, parts = EXCLUDED.parts,
       state = CASE case_pair.state WHEN 'unlike' THEN 'open' ELSE case_pair.state END`,
    [
      register,
      nowText(),
      pairs.map(() => uuid()),
      pairs.map(({ one }) => one),
      pairs.map(({ other }) => other),
      pairs.map(({ score }) => score),
      pairs.map(({ parts }) => JSON.stringify(parts)),
    ],
  )
}

/**
 * Compares some cases of one register with those that share a block with them, after what is known of them
 * was written. New likely pairs become open; open ones that are not alike any more are over. What people
 * decided stays decided. Two devices that register one person at the same time wait for one another at the
 * blocks that both are in, so that the second one finds the first.
 *
 * @param cases none of them merged into another
 */
export async function matchCases(
  sql: Sql,
  register: CaseRegister,
  cases: readonly Pick<KnownOfCase, 'id' | 'known'>[],
): Promise<void> {
  if (!isMatched(register) || !cases.length) return
  const subjects = new Map(cases.map(one => [one.id, subjectOfKnown(register, one)]))
  const ids = [...subjects.keys()]
  const keys = await writeBlocks(sql, register.code, [...subjects.values()])
  const blocks = await casesInBlocks(sql, register.code, keys)
  const others = new Set([...blocks.values()].flat().filter(id => !subjects.has(id)))
  const known = new Map([...subjects, ...(await subjectsOf(sql, register, [...others]))])
  const likely = new Map<string, LikelyPair>()
  for (const subject of subjects.values()) {
    const candidates = new Set(keysOf(subject).flatMap(key => blocks.get(key) ?? []))
    const found = [...candidates].flatMap(id => {
      // Of two that are both asked about, the first one has looked already.
      if (id === subject.id || (subjects.has(id) && id < subject.id)) return []
      const alike = likeness(subject, known.get(id)!)
      return alike.score < LIKELY ? [] : [{ id, ...alike }]
    })
    for (const { id, ...alike } of found.sort((one, two) => two.score - one.score).slice(0, MOST_PAIRS)) {
      const [one, other] = subject.id < id ? [subject.id, id] : [id, subject.id]
      likely.set(`${one} ${other}`, { one, other, ...alike })
    }
  }
  if (likely.size) await writePairs(sql, register.code, [...likely.values()])
  await endUnlike(sql, register, known, ids)
}

/**
 * Open pairs of some cases that are not alike any more are over. Each is looked at by itself: one that was not
 * among the candidates today, because its block has grown, may be as alike as before.
 */
async function endUnlike(
  sql: Sql,
  register: CaseRegister,
  known: ReadonlyMap<string, Subject>,
  ids: readonly string[],
): Promise<void> {
  const open = await sql.query<{ id: string; one: string; other: string }>(
    `SELECT id, one, other FROM case_pair WHERE state = 'open' AND (one = ANY($1::uuid[]) OR other = ANY($1::uuid[]))`,
    [ids],
  )
  const strange = new Set(open.flatMap(({ one, other }) => [one, other]).filter(id => !known.has(id)))
  const subjects = new Map([...known, ...(await subjectsOf(sql, register, [...strange]))])
  const over = open.filter(
    ({ one, other }) => likeness(subjects.get(one)!, subjects.get(other)!).score < LIKELY,
  )
  if (over.length)
    await sql.query(`UPDATE case_pair SET state = 'unlike' WHERE id = ANY($1::uuid[])`, [
      over.map(({ id }) => id),
    ])
}

/** Takes a case out of the search for duplicates: it is part of another one now. */
export async function forgetBlocks(sql: Sql, id: string): Promise<void> {
  await sql.query('DELETE FROM case_block WHERE case_id = $1', [id])
  await sql.query(`UPDATE case_pair SET state = 'unlike' WHERE state = 'open' AND (one = $1 OR other = $1)`, [
    id,
  ])
}
