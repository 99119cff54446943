import type { Static } from '@sinclair/typebox'
import { tryOnCases } from '#core/cases/case-doubts'
import { runnableRegister } from '#core/cases/runnable-register'
import type { RegisterTried, RegisterTry } from '#core/contract/registers'
import { branchPath, type Access } from '../access/access'
import { database } from '../database'
import { Refusal } from '../refusal'
import { today } from '../settings'
import { foldKnown } from './fold-known'
import { parentsOf } from './judge-cases'
import { caseLines } from './list'
import { newestRegisters } from './registers'

/** So many cases are judged in one request: nobody waits long for it, and the page can stop in between. */
const AT_ONCE = 500
/** Hits of one piece that are shown: more nobody opens. */
const MOST_SHOWN = 20

/**
 * Tries one rule of a draft on a piece of the cases of the branch, newest first.
 * @throws Refusal 422 `rule-not-ready` where the draft has no such rule, or it does not compile
 */
export async function tryCaseRule(
  access: Access,
  register: string,
  { draft, rule, after }: Static<typeof RegisterTry>,
): Promise<RegisterTried> {
  const sql = await database()
  const registers = await newestRegisters(sql)
  const rules = draft.rules.filter(({ code }) => code === rule)
  const compiled = runnableRegister({ ...draft, code: register, rules }, code => registers.get(code))
  if (!compiled.ok || !compiled.value.rules.length)
    throw new Refusal(422, 'rule-not-ready', 'This rule cannot be judged as it stands.')
  const scope = `FROM case_record c JOIN unit_latest u ON u.code = c.unit
     WHERE c.register = $1 AND c.merged_into IS NULL AND u.path @> $2::text[]`
  const asked = [register, branchPath(access.branch)]
  const rows = await sql.query<{ id: string }>(
    `SELECT c.id ${scope} AND ($3::uuid IS NULL OR c.id < $3) ORDER BY c.id DESC LIMIT ${AT_ONCE}`,
    [...asked, after ?? null],
  )
  const [count] = after
    ? [null]
    : await sql.query<{ count: number }>(`SELECT count(*)::int AS count ${scope}`, asked)
  const ids = rows.map(({ id }) => id)
  const folded = ids.length ? await foldKnown(sql, ids, registers) : []
  const parents = await parentsOf(sql, folded)
  const { hits, ...tried } = tryOnCases(
    compiled.value,
    folded.map(({ file }) => file),
    folded.map(({ parent }) => parents.get(parent ?? '')),
    await today(sql),
  )
  const shown = hits.slice(0, MOST_SHOWN)
  const lines = await caseLines(
    sql,
    shown.map(hit => hit.case),
    registers,
  )
  return {
    ...tried,
    all: count?.count ?? null,
    looked: ids.length,
    hits: shown.map(hit => ({ case: lines.get(hit.case)!, doubt: hit.doubt })),
    after: ids.length === AT_ONCE ? ids.at(-1)! : null,
  }
}
