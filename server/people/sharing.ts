import { readFilters } from '#core/cases/answer-filter'
import type { CaseRegister } from '#core/cases/register'
import type { PersonNew, Sharing } from '#core/contract/people'
import { grantsOf, maySeePart, maySeeSomeCases } from '#core/contract/permission'
import type { Problem } from '#core/result'
import type { Access } from '../access/access'
import type { Sql } from '../database'
import { Refusal, refusedBy } from '../refusal'

type Asked = Pick<PersonNew, 'role' | 'without' | 'sharing'>

/**
 * Nobody gives what was taken away from themselves.
 * @throws Refusal 403 `not-yours-to-give`
 */
function mustHave({ without }: Access, asked: Asked): void {
  const given = grantsOf(asked.role).filter(permission => !asked.without?.some(one => one === permission))
  if (without.some(permission => given.includes(permission)))
    throw new Refusal(403, 'not-yours-to-give', 'You cannot give what you may not do yourself.')
}

/** What is wrong with what is shared, at its place. */
async function problemsOf(sql: Pick<Sql, 'query'>, { datasets, registers }: Sharing): Promise<Problem[]> {
  const known = await sql.query<{ code: string }>('SELECT code FROM dataset WHERE code = ANY($1::text[])', [
    datasets ?? [],
  ])
  const editions = await sql.query<{ register: string; definition: CaseRegister }>(
    `SELECT DISTINCT ON (register) register, definition FROM register_edition
     WHERE register = ANY($1::text[]) ORDER BY register, number DESC`,
    [(registers ?? []).map(({ register }) => register)],
  )
  const definitions = new Map(editions.map(({ register, definition }) => [register, definition]))
  const unknown = (what: string, code: string, at: string): Problem => ({
    ...{ code: `share-${what}`, message: `There is no ${what} ${code}.`, at, values: { code } },
  })
  return [
    ...(datasets ?? []).flatMap((code, at) =>
      known.some(one => one.code === code) ? [] : [unknown('dataset', code, `sharing/datasets/${at}`)],
    ),
    ...(registers ?? []).flatMap(({ register, where }, at) => {
      const definition = definitions.get(register)
      if (!definition) return [unknown('register', register, `sharing/registers/${at}`)]
      const filters = readFilters(definition, where)
      return filters.ok ? [] : filters.problems.map(one => ({ ...one, at: `sharing/registers/${at}/where` }))
    }),
  ]
}

/**
 * Checks what a person is given to see and to do.
 *
 * @throws Refusal 403 `not-yours-to-give`; 422 `sharing-role` where an officer or administrator would see a
 *   part only, `sharing-conditions` where a clerk would see some cases of a register, `shares-nothing`, `share-dataset`, `share-register`, or what is wrong with a condition
 */
export async function mustBeSharable(sql: Pick<Sql, 'query'>, access: Access, asked: Asked): Promise<void> {
  mustHave(access, asked)
  const { sharing } = asked
  if (!sharing) return
  const refused = (code: string, message: string) => refusedBy(422, [{ code, message }], 'body/sharing')
  if (!maySeePart(asked.role))
    throw refused('sharing-role', 'Only a reader or a clerk can be held to some datasets and registers.')
  if (!maySeeSomeCases(asked.role) && sharing.registers?.some(({ where }) => where))
    throw refused('sharing-conditions', 'A clerk sees all cases of a register of the facility, or none.')
  if (sharing.datasets?.length === 0 && sharing.registers?.length === 0)
    throw refused('shares-nothing', 'Nothing would be shared with this person. Switch them off instead.')
  const problems = await problemsOf(sql, sharing)
  if (problems.length) throw refusedBy(422, problems)
}
