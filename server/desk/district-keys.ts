import { newCarryKeys, readKeys, writeKeys, type CarryKeys, type PublicKeys } from '#core/protect/carry-file'
import type { Sql } from '../database'
import { secretOf } from '../secrets'

const SECRET = 'carryKeys'

/**
 * The row of the database. `told` is the name under which the public halves were stored from the beginning.
 */
interface StoredKeys {
  own: Parameters<typeof readKeys>[0]
  told: PublicKeys
}

/** The keys of this installation for carried files, made when they are first needed. */
const keys = (sql: Pick<Sql, 'query'>): Promise<StoredKeys> =>
  secretOf(sql, SECRET, async () => {
    const made = await newCarryKeys(true)
    return { own: await writeKeys(made.own), told: made.public }
  })

/** The public halves: what devices get when they are paired. */
export const districtKeys = async (sql: Pick<Sql, 'query'>): Promise<PublicKeys> => (await keys(sql)).told

/** The secret halves as they are stored: for a thread, which makes its own keys of them. */
export const secretKeys = async (sql: Pick<Sql, 'query'>): Promise<StoredKeys['own']> => (await keys(sql)).own

/** The secret halves. */
export const ownKeys = async (sql: Pick<Sql, 'query'>): Promise<CarryKeys> => readKeys((await keys(sql)).own)
