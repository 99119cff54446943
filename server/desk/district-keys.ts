import { newCarryKeys, readKeys, writeKeys, type CarryKeys, type PublicKeys } from '#core/protect/carry-file'
import type { Sql } from '../database'

const KEPT = 'carryKeys'

interface Kept { own: Parameters<typeof readKeys>[0]; told: PublicKeys }

/** The keys of this installation for carried files, made when they are first needed. */
async function keys(sql: Pick<Sql, 'query'>): Promise<Kept> {
  const [row] = await sql.query<{ value: Kept }>('SELECT value FROM secret WHERE key = $1', [KEPT])
  if (row) return row.value
  const { own, told } = await newCarryKeys(true)
  // Of two that make them at once the first stands.
  const [kept] = await sql.query<{ value: Kept }>('INSERT INTO secret (key, value) VALUES ($1, $2) ON CONFLICT (key) DO UPDATE SET value = secret.value RETURNING value', [KEPT, { own: await writeKeys(own), told }])
  return kept!.value
}

/** The public halves: what devices are told when they are paired. */
export const districtKeys = async (sql: Pick<Sql, 'query'>): Promise<PublicKeys> => (await keys(sql)).told

/** The secret halves as they are stored: for a thread, which makes its own keys of them. */
export const secretKeys = async (sql: Pick<Sql, 'query'>): Promise<Kept['own']> => (await keys(sql)).own

/** The secret halves. */
export const ownKeys = async (sql: Pick<Sql, 'query'>): Promise<CarryKeys> => readKeys((await keys(sql)).own)
