import { printDay } from '#core/calendar/day'
import { questionOfKey, withoutPersonal, yearsBefore } from '#core/cases/personal'
import type { CaseRegister } from '#core/cases/register'
import type { DoubtedAnswer } from '#core/cases/case-doubts'
import type { Answers } from '#core/form/answer'
import { nowText } from '../clock'
import type { Database, Sql } from '../database'
import { today } from '../settings'
import { MEMBERS } from './fold-known'
import { writeKnown } from './known'
import { lockCases } from './lock-cases'
import { forgetBlocks } from './match'
import { newestRegisters } from './registers'

/** So many cases in one transaction: nobody waits long for them. */
const AT_ONCE = 100

/** Cases `c` whose personal answers are past their time; or of which an entry came after they were replaced. */
const PAST = `c.merged_into IS NULL AND c.last_on < $2::date AND (c.forgotten_at IS NULL OR c.received_at > c.forgotten_at)`

/** The personal answers in what is kept of discrepancies about some cases. */
async function forgetInDoubts(
  sql: Sql,
  ids: readonly string[],
  personal: ReadonlySet<string>,
): Promise<void> {
  type Kept = { answers?: DoubtedAnswer[] }
  const rows = await sql.query<{ id: string; evidence: Kept; contents: Kept }>(
    'SELECT id, evidence, contents FROM discrepancy WHERE case_id = ANY($1::uuid[])',
    [ids],
  )
  const bare = ({ answers, ...rest }: Kept): string =>
    JSON.stringify({
      ...rest,
      ...(answers && { answers: answers.filter(({ cell }) => !personal.has(questionOfKey(cell))) }),
    })
  await sql.query(
    `UPDATE discrepancy d SET evidence = given.evidence::jsonb, contents = given.contents::jsonb
     FROM unnest($1::uuid[], $2::text[], $3::text[]) AS given (id, evidence, contents) WHERE d.id = given.id`,
    [
      rows.map(({ id }) => id),
      rows.map(({ evidence }) => bare(evidence)),
      rows.map(({ contents }) => bare(contents)),
    ],
  )
}

/** The pictures and sounds that an entry had and has no more; unless another entry still names them. */
async function forgetFiles(sql: Sql, before: readonly Answers[]): Promise<void> {
  const hashes = before.flatMap(answers =>
    Object.values(answers).flatMap(content => {
      const value = content.kind === 'value' ? (content.value as { hash?: unknown } | null) : null
      return typeof value === 'object' && typeof value?.hash === 'string' ? [value.hash] : []
    }),
  )
  for (const hash of new Set(hashes))
    await sql.query(
      `DELETE FROM stored_file WHERE hash = $1
         AND NOT EXISTS (SELECT 1 FROM case_entry e WHERE e.answers::text LIKE '%' || $1 || '%')`,
      [hash],
    )
}

/** @returns how many cases were done: fewer than {@link AT_ONCE} when there are no more */
async function forgetSome(sql: Sql, register: CaseRegister, before: string): Promise<number> {
  const found = await sql.query<{ id: string }>(
    `SELECT c.id FROM case_record c WHERE c.register = $1 AND ${PAST} ORDER BY c.id LIMIT ${AT_ONCE}`,
    [register.code, before],
  )
  await lockCases(
    sql,
    found.map(({ id }) => id),
  )
  // One that an entry came for meanwhile is followed again.
  const still = await sql.query<{ id: string; known: Answers }>(
    `SELECT c.id, c.known FROM case_record c WHERE c.id = ANY($1::uuid[]) AND ${PAST} ORDER BY c.id FOR UPDATE`,
    [found.map(({ id }) => id), before],
  )
  const ids = still.map(({ id }) => id)
  if (!ids.length) return found.length
  const entries = await sql.query<{ id: string; root: string; answers: Answers }>(
    `${MEMBERS} SELECT e.id, m.root, e.answers FROM member m JOIN case_entry e ON e.case_id = m.id`,
    [ids],
  )
  await sql.query(
    `UPDATE case_entry e SET answers = given.answers::jsonb
     FROM unnest($1::uuid[], $2::text[]) AS given (id, answers) WHERE e.id = given.id`,
    [
      entries.map(({ id }) => id),
      entries.map(({ root, answers }) => JSON.stringify(withoutPersonal(register, answers, root))),
    ],
  )
  await forgetFiles(
    sql,
    entries.map(({ answers }) => answers),
  )
  // What is kept of a merged one is nobody's while it is part of another: the fold writes that one only.
  await sql.query(
    `${MEMBERS} UPDATE case_record c SET forgotten_at = $2, known = '{}', search_text = '' FROM member m WHERE c.id = m.id`,
    [ids, nowText()],
  )
  // As the fold will find it: what is counted is the same, so that no report is judged again.
  await sql.query(
    `UPDATE case_record c SET known = given.known::jsonb, to_fold = true
     FROM unnest($1::uuid[], $2::text[]) AS given (id, known) WHERE c.id = given.id`,
    [ids, still.map(({ id, known }) => JSON.stringify(withoutPersonal(register, known, id)))],
  )
  for (const id of ids) await forgetBlocks(sql, id)
  await writeKnown(sql, ids)
  await forgetInDoubts(sql, ids, new Set(register.keeping!.personal))
  return found.length
}

/**
 * Replaces the personal answers of cases that nobody has heard of for as long as their register keeps them
 * ({@link withoutPersonal}). What is counted stays. It cannot be taken back.
 * @returns how many cases
 */
export async function forgetPersonal(sql: Database, signal?: AbortSignal): Promise<number> {
  const day = await today(sql)
  let forgotten = 0
  for (const register of (await newestRegisters(sql)).values()) {
    if (!register.keeping?.personal.length) continue
    const before = printDay(yearsBefore(day, register.keeping.years))
    for (let done = AT_ONCE; done === AT_ONCE; forgotten += done) {
      signal?.throwIfAborted()
      done = await sql.transaction(tx => forgetSome(tx, register, before))
    }
  }
  return forgotten
}
