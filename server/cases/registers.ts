import type { CaseRegister } from '#core/cases/register'
import { runnableRegister, type RunnableRegister } from '#core/cases/runnable-register'
import type { DeskRegister } from '#core/contract/desk-register'
import { branchPath, type Access } from '../access/access'
import { database, type Sql } from '../database'
import { logError } from '../log'

/** Editions never change once published, so each is read once. */
const definitions = new Map<string, CaseRegister>()
const nameOf = ({ register, edition }: Pick<DeskRegister, 'register' | 'edition'>) => `${register}~${edition}`

/** The newest edition of every register that is published, in the order of their codes. */
async function newest(sql: Pick<Sql, 'query'>): Promise<DeskRegister[]> {
  const editions = await sql.query<Omit<DeskRegister, 'definition'>>(
    'SELECT register, max(number) AS edition FROM register_edition GROUP BY register ORDER BY register',
  )
  const unread = editions.filter(one => !definitions.has(nameOf(one)))
  if (unread.length) {
    const rows = await sql.query<DeskRegister>(
      `SELECT e.register, e.number AS edition, e.definition FROM register_edition e
       JOIN unnest($1::text[], $2::int[]) AS asked (register, number) USING (register, number)`,
      [unread.map(({ register }) => register), unread.map(({ edition }) => edition)],
    )
    for (const row of rows) definitions.set(nameOf(row), row.definition)
  }
  return editions.map(one => ({ ...one, definition: definitions.get(nameOf(one))! }))
}

/** The newest edition of every register that is published. */
export const deskRegisters = async (): Promise<DeskRegister[]> => newest(await database())

/** The newest definition of every register that is published, by its code. */
export const newestRegisters = async (sql: Pick<Sql, 'query'>): Promise<Map<string, CaseRegister>> =>
  new Map((await newest(sql)).map(({ register, definition }) => [register, definition]))

/**
 * Compiled registers by their definitions, which are read once, with the parent that their rules were read
 * against.
 */
const compiled = new WeakMap<CaseRegister, { parent?: CaseRegister; register: RunnableRegister | null }>()

/**
 * The same registers with the rules of them that can run. One that cannot be compiled is left out and logged:
 * what facilities send must not be held up by it.
 *
 * @param registers those of {@link newestRegisters}
 */
export function runnableRegisters(
  registers: ReadonlyMap<string, CaseRegister>,
): ReadonlyMap<string, RunnableRegister> {
  const found = new Map<string, RunnableRegister>()
  for (const [code, definition] of registers) {
    const parent = registers.get(definition.parent ?? '')
    let known = compiled.get(definition)
    if (!known || known.parent !== parent) {
      const made = runnableRegister(definition, () => parent)
      if (!made.ok) logError(`The rules of ${code} cannot be judged`, made.problems[0]!.message)
      known = { ...(parent && { parent }), register: made.ok ? made.value : null }
      compiled.set(definition, known)
    }
    if (known.register) found.set(code, known.register)
  }
  return found
}

/** Earlier editions in which entries of the branch were filled. */
export async function earlierRegisters(access: Access): Promise<DeskRegister[]> {
  const sql = await database()
  return sql.query<DeskRegister>(
    `SELECT g.register, g.number AS edition, g.definition FROM register_edition g
     WHERE g.number < (SELECT max(n.number) FROM register_edition n WHERE n.register = g.register)
       AND EXISTS (SELECT 1 FROM case_entry e JOIN case_record c ON c.id = e.case_id JOIN unit_latest u ON u.code = c.unit
         WHERE c.register = g.register AND e.edition = g.number AND u.path @> $1::text[])
     ORDER BY g.register, g.number`,
    [branchPath(access.branch)],
  )
}
