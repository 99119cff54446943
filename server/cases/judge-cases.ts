import { findCaseDoubts, readsParent, type CaseDoubt } from '#core/cases/case-doubts'
import { caseOfKnown, type KnownCase } from '#core/cases/fold'
import type { CaseRegister } from '#core/cases/register'
import type { RunnableRegister } from '#core/cases/runnable-register'
import type { Answers } from '#core/form/answer'
import { groupBy } from '#core/group-by'
import { same } from '#core/same'
import { nowText } from '../clock'
import type { Sql } from '../database'
import { KNOWN_DISCREPANCY, saveFound, type KnownDiscrepancy } from '../doubts/save-found'
import { today } from '../settings'
import { foldKnown, MEMBERS, UP, type FoldedCase } from './fold-known'
import { runnableRegisters } from './registers'

/** What a person said of doubts when they sent the entries that raise them. */
export interface SaidOfDoubts {
  person: string
  /** Sentences by case and key of the doubt: see {@link saidKey}. */
  texts: ReadonlyMap<string, string>
}

/** Doubts of different cases may have one key. */
export const saidKey = (caseId: string, doubt: string): string => `${caseId} ${doubt}`

/** What is known of the parents of some cases, by the identifier that the cases name; merged ones by their root. */
export async function parentsOf(
  sql: Pick<Sql, 'query'>,
  cases: readonly FoldedCase[],
): Promise<Map<string, KnownCase>> {
  const ids = [...new Set(cases.flatMap(({ parent }) => parent ?? []))]
  if (!ids.length) return new Map()
  const rows = await sql.query<{ start: string; id: string; known: Answers }>(
    `${UP} SELECT up.start, c.id, c.known FROM up JOIN case_record c ON c.id = up.id WHERE up.next IS NULL`,
    [ids],
  )
  return new Map(rows.map(({ start, id, known }) => [start, caseOfKnown(id, known)]))
}

/** The doubts about some cases of one register, in the order of the cases. */
export async function doubtsAbout(
  sql: Pick<Sql, 'query'>,
  register: RunnableRegister,
  cases: readonly FoldedCase[],
): Promise<CaseDoubt[][]> {
  if (!register.rules.length) return cases.map(() => [])
  const parents = register.parent ? await parentsOf(sql, cases) : new Map<string, KnownCase>()
  return findCaseDoubts(
    register,
    cases.map(({ file }) => file),
    cases.map(({ parent }) => parents.get(parent ?? '')),
    await today(sql),
  )
}

/** Doubts that are gone close by themselves: an entry has corrected what they were about. */
async function close(sql: Sql, ids: readonly string[]): Promise<void> {
  if (!ids.length) return
  await sql.query('UPDATE discrepancy SET holds = false WHERE id = ANY($1::uuid[])', [ids])
  await sql.query(
    `WITH cured AS (
       UPDATE discrepancy SET state = 'settled', outcome = 'corrected'
       WHERE id = ANY($1::uuid[]) AND state <> 'settled' RETURNING id)
     INSERT INTO discrepancy_event (discrepancy, at, person, act, text) SELECT id, $2, NULL, 'settled', NULL FROM cured`,
    [ids, nowText()],
  )
}

/** Closes what is open about cases that became part of others: their entries are judged there. */
export async function closeDoubtsOf(sql: Sql, cases: readonly string[]): Promise<void> {
  const rows = await sql.query<{ id: string }>(
    'SELECT id FROM discrepancy WHERE case_id = ANY($1::uuid[]) AND holds',
    [cases],
  )
  await close(
    sql,
    rows.map(({ id }) => id),
  )
}

async function judgeOneRegister(
  sql: Sql,
  register: RunnableRegister,
  cases: readonly FoldedCase[],
  said: SaidOfDoubts | undefined,
): Promise<void> {
  const [doubts, discrepancies] = await Promise.all([
    doubtsAbout(sql, register, cases),
    sql.query<KnownDiscrepancy & { case: string }>(
      `SELECT case_id AS "case", ${KNOWN_DISCREPANCY} FROM discrepancy WHERE case_id = ANY($1::uuid[])`,
      [cases.map(({ file }) => file.case)],
    ),
  ])
  const known = groupBy(discrepancies, row => row.case)
  const all = cases.map(({ file }, at) => ({
    about: { case: file.case },
    known: known.get(file.case) ?? [],
    found: doubts[at]!.map(doubt => ({
      doubt,
      evidence: doubt,
      contents: { answers: doubt.answers },
      explanation: said?.texts.get(saidKey(file.case, doubt.key))?.trim() || null,
    })),
  }))
  await close(sql, await saveFound(sql, all, same, said?.person ?? null))
}

/** The cases that belong to some cases and are of one register, folded; without some that are known already. */
async function childrenOf(
  sql: Sql,
  parents: readonly string[],
  register: string,
  besides: readonly string[],
  registers: ReadonlyMap<string, CaseRegister>,
): Promise<FoldedCase[]> {
  const rows = await sql.query<{ id: string }>(
    `${MEMBERS} SELECT c.id FROM case_record c JOIN member m ON c.parent = m.id
     WHERE c.register = $2 AND c.merged_into IS NULL AND c.id <> ALL($3::uuid[])`,
    [parents, register, besides],
  )
  if (!rows.length) return []
  return foldKnown(
    sql,
    rows.map(({ id }) => id),
    registers,
  )
}

/**
 * Judges the rules of the registers of some cases, as they were folded a moment ago, and of those that belong
 * to them where a rule reads the parent case. New doubts become discrepancies; those that are gone close.
 *
 * @param registers the newest definitions, by code
 */
export async function judgeCases(
  sql: Sql,
  cases: readonly FoldedCase[],
  registers: ReadonlyMap<string, CaseRegister>,
  said?: SaidOfDoubts,
): Promise<void> {
  const runnable = runnableRegisters(registers)
  const judged = cases.map(({ file }) => file.case)
  for (const [code, own] of groupBy(cases, ({ register }) => register)) {
    const register = runnable.get(code)
    if (register) await judgeOneRegister(sql, register, own, said)
    const parents = own.map(({ file }) => file.case)
    for (const child of runnable.values()) {
      if (child.register.parent !== code || !child.rules.some(readsParent)) continue
      const children = await childrenOf(sql, parents, child.register.code, judged, registers)
      if (children.length) await judgeOneRegister(sql, child, children, undefined)
    }
  }
}
