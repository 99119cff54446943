import { readFilters } from '#core/cases/answer-filter'
import { notShared, type Access } from '../access/access'
import type { Sql } from '../database'
import { newestRegisters } from './registers'
import { answerCondition, Where } from './where'

/**
 * For queries: the condition that a case `c` is one that a person sees, beside its branch: of a register that is
 * shared with them, and meeting its condition. A condition that the register's newest edition cannot read shows
 * nothing.
 *
 * @param where gets its parameters
 * @returns `true` where nothing is held back
 */
export async function sharedCases(
  sql: Pick<Sql, 'query'>,
  { sharing }: Pick<Access, 'sharing'>,
  where: Where,
): Promise<string> {
  if (!sharing?.registers) return 'true'
  const registers = await newestRegisters(sql)
  const ofEach = sharing.registers.flatMap(({ register: code, where: text }) => {
    const register = registers.get(code)
    const filters = register && readFilters(register, text)
    if (!filters?.ok) return []
    const conditions = filters.value.map(filter => answerCondition(filter, where))
    return [[`c.register = ${where.param(code)}`, ...conditions].join(' AND ')]
  })
  return ofEach.length ? `(${ofEach.join(' OR ')})` : 'false'
}

/** Are all of some cases shared with a person? */
export async function seesCases(
  sql: Pick<Sql, 'query'>,
  access: Pick<Access, 'sharing'>,
  ids: readonly string[],
): Promise<boolean> {
  if (!access.sharing?.registers) return true
  const where = new Where()
  const which = `c.id = ANY(${where.param(ids)}::uuid[])`
  const condition = await sharedCases(sql, access, where)
  const seen = await sql.query(`SELECT 1 FROM case_record c WHERE ${which} AND ${condition}`, where.values)
  return seen.length === new Set(ids).size
}

/** @throws Refusal 403 `not-shared` unless all of some cases are shared with a person */
export async function mustSeeCases(...asked: Parameters<typeof seesCases>): Promise<void> {
  if (!(await seesCases(...asked))) throw notShared()
}

/** Does a person see cases of a register, all or some? */
export const seesRegister = ({ sharing }: Pick<Access, 'sharing'>, register: string): boolean =>
  !sharing?.registers || sharing.registers.some(one => one.register === register)

/** For queries: the registers of which a person sees cases; null for all of them. */
export const registerCodesSeen = ({ sharing }: Pick<Access, 'sharing'>): string[] | null =>
  sharing?.registers?.map(({ register }) => register) ?? null

/** For queries: a case `c` is of one of some registers. @param codes the parameter with them; null is all */
export const ofRegisters = (codes: string): string =>
  `(${codes}::text[] IS NULL OR c.register = ANY(${codes}))`

/** Which of some registers a person sees cases of. */
export const registersSeen = <T extends { register: string }>(
  access: Pick<Access, 'sharing'>,
  registers: readonly T[],
): T[] => registers.filter(({ register }) => seesRegister(access, register))
