import { compileRegister } from '#core/cases/compile-register'
import type { CaseRegister } from '#core/cases/register'
import type { EditionLine } from '#core/contract/drafts'
import type { RegisterFile, RegisterLine } from '#core/contract/registers'
import { registerDifferences } from '#core/define/register-differences'
import { registerReadiness } from '#core/define/register-readiness'
import { LANGUAGES } from '#core/languages'
import { same } from '#core/same'
import type { Access } from '../access/access'
import { nowText } from '../clock'
import { mustBeVersion } from '../definitions/draft-version'
import { database, type Sql } from '../database'
import { lockDefined, mustOwn, mustOwnOrClaim, owns } from '../definitions/owner'
import { askForJob } from '../queue/job-table'
import { conflict, notFound } from '../refusal'

interface DraftRow {
  definition: CaseRegister
  version: number
  at: string
  by: string
}
type Reader = Pick<Sql, 'query'>

const draftRow = async (sql: Reader, register: string): Promise<DraftRow | undefined> =>
  (
    await sql.query<DraftRow>(
      `SELECT d.definition, d.version, d.updated_at AS at, p.display_name AS by FROM register_draft d JOIN person p ON p.id = d.updated_by WHERE d.register = $1`,
      [register],
    )
  )[0]

/** The newest edition of a register; null where it was never published. */
export const newestRegister = async (
  sql: Reader,
  register: string,
): Promise<{ number: number; definition: CaseRegister } | null> =>
  (
    await sql.query<{ number: number; definition: CaseRegister }>(
      'SELECT number, definition FROM register_edition WHERE register = $1 ORDER BY number DESC LIMIT 1',
      [register],
    )
  )[0] ?? null

/** All registers, published or begun. */
export async function listRegisters(): Promise<RegisterLine[]> {
  const sql = await database()
  return sql.query<RegisterLine>(
    `WITH newest AS (SELECT DISTINCT ON (register) register, number, definition -> 'name' AS name FROM register_edition ORDER BY register, number DESC)
     SELECT coalesce(n.register, d.register) AS register, coalesce(d.definition -> 'name', n.name) AS name, n.number AS edition,
       CASE WHEN d.register IS NULL THEN NULL ELSE jsonb_build_object('by', p.display_name, 'at', to_char(d.updated_at, 'YYYY-MM-DD"T"HH24:MI:SS"Z"')) END AS draft
     FROM newest n FULL JOIN register_draft d ON d.register = n.register LEFT JOIN person p ON p.id = d.updated_by ORDER BY 1`,
  )
}

async function fileOf(
  sql: Reader,
  access: Access,
  register: string,
  stored: Partial<DraftRow> & Pick<DraftRow, 'definition' | 'version'>,
): Promise<RegisterFile> {
  const published = await newestRegister(sql, register)
  const { definition: draft, version, at, by } = stored
  const parent = draft.parent ? await newestRegister(sql, draft.parent) : null
  const compiledParent = parent ? compileRegister(parent.definition) : null
  return {
    draft,
    version,
    number: (published?.number ?? 0) + 1,
    saved: at && by ? { at, by } : null,
    mine: await owns(sql, access, { kind: 'register', code: register }),
    published: published?.definition ?? null,
    parent: parent?.definition ?? null,
    lacks: registerReadiness(draft, compiledParent?.ok ? compiledParent.value : null, LANGUAGES),
    differences: published ? registerDifferences(published.definition, draft) : [],
  }
}

/**
 * The draft of a register; where there is none, its newest edition to begin one from. @throws Refusal 404.
 */
export async function registerFile(access: Access, register: string): Promise<RegisterFile> {
  const sql = await database()
  const stored = await draftRow(sql, register)
  if (stored) return fileOf(sql, access, register, stored)
  const published = await newestRegister(sql, register)
  if (!published) throw notFound('draft')
  return fileOf(sql, access, register, { definition: published.definition, version: 0 })
}

/** Saves a draft. @throws Refusal 409 `draft-changed` when it is not made on the version that is stored. */
export async function saveRegister(
  access: Access,
  register: string,
  { version, draft }: { version: number; draft: CaseRegister },
): Promise<RegisterFile> {
  const sql = await database()
  return sql.transaction(async tx => {
    await lockDefined(tx, [{ kind: 'register', code: register }])
    await mustOwnOrClaim(tx, access, { kind: 'register', code: register })
    const stored = await draftRow(tx, register)
    mustBeVersion(stored, version)
    const definition = { ...draft, code: register }
    const at = nowText()
    await tx.query(
      `INSERT INTO register_draft (register, definition, version, updated_at, updated_by) VALUES ($1, $2, 1, $3, $4)
       ON CONFLICT (register) DO UPDATE SET definition = EXCLUDED.definition, version = register_draft.version + 1, updated_at = EXCLUDED.updated_at, updated_by = EXCLUDED.updated_by`,
      [register, definition, at, access.id],
    )
    return fileOf(tx, access, register, { definition, version: version + 1, at, by: access.displayName })
  })
}

/** What a register says that is kept with each of its cases, or judged on each. */
const keptBy = ({ follow, forms, line, identity, countingDate, rules }: CaseRegister) => [
  follow,
  forms,
  line,
  identity,
  countingDate,
  rules,
]

/**
 * Publishes a draft as the next edition, for ever. @throws Refusal 404, 409 `draft-changed`,
 * `draft-not-ready`.
 */
export async function publishRegister(access: Access, register: string, version: number): Promise<number> {
  const sql = await database()
  return sql.transaction(async tx => {
    await lockDefined(tx, [{ kind: 'register', code: register }])
    const stored = await draftRow(tx, register)
    if (!stored) throw notFound('draft')
    await mustOwn(tx, access, { kind: 'register', code: register })
    mustBeVersion(stored, version)
    const { draft, number, lacks, published } = await fileOf(tx, access, register, stored)
    if (lacks.some(({ weight }) => weight === 'must'))
      throw conflict('draft-not-ready', 'The draft still lacks something that it must have.')
    await tx.query(
      'INSERT INTO case_register (code, name) VALUES ($1, $2) ON CONFLICT (code) DO UPDATE SET name = EXCLUDED.name',
      [register, draft.name],
    )
    await tx.query(
      'INSERT INTO register_edition (register, number, definition, published_at) VALUES ($1, $2, $3, $4)',
      [register, number, draft, nowText()],
    )
    await tx.query('DELETE FROM register_draft WHERE register = $1', [register])
    // What is kept with a case follows from the newest edition.
    if (published && !same(keptBy(published), keptBy(draft))) {
      await tx.query('UPDATE case_record SET to_fold = true WHERE register = $1', [register])
      await askForJob(tx, 'foldCases')
    }
    return number
  })
}

/** The editions of a register, newest first. */
export async function registerEditions(register: string): Promise<EditionLine[]> {
  const sql = await database()
  return sql.query<EditionLine>(
    'SELECT number, published_at AS "publishedAt" FROM register_edition WHERE register = $1 ORDER BY number DESC',
    [register],
  )
}

/** One edition, whole. @throws Refusal 404 */
export async function oneRegisterEdition(register: string, number: number): Promise<CaseRegister> {
  const sql = await database()
  const [row] = await sql.query<{ definition: CaseRegister }>(
    'SELECT definition FROM register_edition WHERE register = $1 AND number = $2',
    [register, number],
  )
  if (!row) throw notFound('edition')
  return row.definition
}
