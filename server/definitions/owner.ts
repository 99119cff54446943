import type { Access } from '../access/access'
import type { Sql } from '../database'
import { lockDefinitions } from '../database/locks'
import { Refusal } from '../refusal'

/**
 * What is defined and has an owner. Drafts and scanned paper belong to the dataset or register that they are
 * of.
 */
export interface Defined {
  kind: 'dataset' | 'register' | 'list'
  code: string
}

type Reader = Pick<Sql, 'query'>

/** Where each kind stands, published or begun. */
const PLACES: Record<Defined['kind'], string> = {
  dataset: 'SELECT 1 FROM dataset WHERE code = $1 UNION ALL SELECT 1 FROM dataset_draft WHERE dataset = $1',
  register:
    'SELECT 1 FROM case_register WHERE code = $1 UNION ALL SELECT 1 FROM register_draft WHERE register = $1',
  list: 'SELECT 1 FROM choice_list WHERE code = $1',
}

const notOwner = () =>
  new Refusal(
    403,
    'not-owner',
    'This belongs to another part of the tree, or to the whole installation. You may look at it, and not change it.',
  )

/**
 * Whose a definition is: a branch of the tree, or (null) the whole installation. What was there before owners
 * were noted is the installation's. Undefined for one that does not exist.
 */
async function ownerOf(sql: Reader, { kind, code }: Defined): Promise<string | null | undefined> {
  const [owner] = await sql.query<{ branch: string | null }>(
    'SELECT branch FROM definition_owner WHERE kind = $1 AND code = $2',
    [kind, code],
  )
  if (owner) return owner.branch
  return (await sql.query(`${PLACES[kind]} LIMIT 1`, [code])).length ? null : undefined
}

/**
 * Alone with these definitions to the end of the transaction: of two who save on one version the second finds
 * it changed.
 */
export const lockDefined = (tx: Sql, defined: readonly Defined[]): Promise<void> =>
  lockDefinitions(
    tx,
    defined.map(({ kind, code }) => `${kind} ${code}`),
  )

/** May a person change a definition? Of one that does not exist yet: everybody who defines may begin it. */
export async function owns(sql: Reader, access: Access, defined: Defined): Promise<boolean> {
  const owner = await ownerOf(sql, defined)
  if (access.branch === null || owner === undefined) return true
  if (owner === null) return false
  const [unit] = await sql.query<{ path: string[] }>('SELECT path FROM unit_latest WHERE code = $1', [owner])
  return unit !== undefined && unit.path.includes(access.branch)
}

/** @throws Refusal 403 `not-owner` when a definition is another branch's, or the whole installation's. */
export async function mustOwn(sql: Reader, access: Access, defined: Defined): Promise<void> {
  if (!(await owns(sql, access, defined))) throw notOwner()
}

/**
 * Checks that a person may save a definition, and makes one that is new theirs: of their branch.
 * @throws Refusal 403 `not-owner`
 */
export async function mustOwnOrClaim(sql: Sql, access: Access, defined: Defined): Promise<void> {
  await mustOwn(sql, access, defined)
  if ((await ownerOf(sql, defined)) !== undefined) return
  await sql.query(
    'INSERT INTO definition_owner (kind, code, branch) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING',
    [defined.kind, defined.code, access.branch],
  )
  // Somebody else may have been quicker.
  await mustOwn(sql, access, defined)
}
