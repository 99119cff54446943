import type { CaseRegister } from '#core/cases/register'
import type { CaseOutcome } from '#core/cases/life'
import type { CaseLifeEvent } from '#core/contract/case-life'
import type { CaseFileView } from '#core/contract/cases'
import type { DeskRegister } from '#core/contract/desk-register'
import type { Access } from '../access/access'
import { holds } from '../access/branch'
import { database, type Sql } from '../database'
import { notFound, outsideBranch } from '../refusal'
import { membersOf, rootsOf } from './fold-known'
import { caseLines, closedOf } from './list'
import { noteOpening } from './note-opening'
import { newestRegisters } from './registers'
import { mustSeeCases, seesCases } from './shared'

/** One case that stands by itself, with the entries of some cases as they were filled. @throws Refusal 403 */
export async function caseView(
  sql: Pick<Sql, 'query'>,
  access: Access,
  id: string,
  members: readonly string[],
): Promise<CaseFileView> {
  const [record] = await sql.query<{
    register: string
    code: string
    name: string
    path: string[]
    parent: string | null
    closedOn: string | null
    outcome: CaseOutcome | null
    forgottenAt: string | null
  }>(
    `SELECT c.register, c.parent, c.closed_on AS "closedOn", c.outcome, c.forgotten_at AS "forgottenAt", u.code, u.name, u.path
     FROM case_record c JOIN unit_latest u ON u.code = c.unit WHERE c.id = $1`,
    [id],
  )
  if (!record) throw notFound('case')
  const entries = await sql.query<CaseFileView['entries'][number] & { person: string }>(
    `SELECT e.id, e.case_id AS "case", e.form, e.edition, e.answers, e.happened_on AS "happenedOn", e.made_at AS "madeAt", e.received_at AS "receivedAt",
       e.person, p.display_name AS by, d.name AS device, e.paper_on AS "paperOn", e.corrects
     FROM case_entry e JOIN person p ON p.id = e.person LEFT JOIN device d ON d.id = e.device WHERE e.case_id = ANY($1::uuid[]) ORDER BY e.happened_on, e.seq`,
    [members],
  )
  if (access.ownOnly && !entries.some(({ person }) => person === access.id)) throw outsideBranch()
  const definitions = await newestRegisters(sql)
  const editions = await sql.query<DeskRegister>(
    'SELECT register, number AS edition, definition FROM register_edition WHERE register = $1 AND number = ANY($2::int[]) ORDER BY number',
    [record.register, [...new Set(entries.map(({ edition }) => edition))]],
  )
  return {
    id,
    register: record.register,
    unit: { code: record.code, name: record.name },
    mine: holds(access.branch, record.path),
    closed: closedOf(record),
    forgottenAt: record.forgottenAt,
    life: await lifeOfCases(sql, members),
    parent: await parentOf(sql, access, record.parent, definitions),
    definition: definitions.get(record.register)!,
    editions,
    entries: entries.map(({ person: _, ...entry }) => entry),
  }
}

/**
 * One case with its entries as they were filled. A merged one is answered by the case that it is part of, with
 * the entries of all that are part of it. @throws Refusal 404, 403 where none of them is of the branch
 */
export async function caseFile(access: Access, id: string): Promise<CaseFileView> {
  const sql = await database()
  const [root] = await rootsOf(sql, [id])
  if (root === undefined) throw notFound('case')
  const members = await membersOf(sql, root)
  const paths = await pathsOf(sql, members)
  if (!paths.some(path => holds(access.branch, path))) throw outsideBranch()
  await mustSeeCases(sql, access, [root])
  const view = await caseView(sql, access, root, members)
  await noteOpening(sql, access, root)
  return view
}

/** More than this becomes of no case; what it was at first is told before what came later. */
const MOST_EVENTS = 200

/** What became of some cases besides their entries. */
async function lifeOfCases(sql: Pick<Sql, 'query'>, ids: readonly string[]): Promise<CaseLifeEvent[]> {
  type Named = { code: string; name: string } | null
  return sql.query<CaseLifeEvent & { from: Named; to: Named }>(
    `SELECT e.at, p.display_name AS by, d.name AS device, e.act,
       CASE WHEN f.code IS NULL THEN NULL ELSE jsonb_build_object('code', f.code, 'name', f.name) END AS "from",
       CASE WHEN t.code IS NULL THEN NULL ELSE jsonb_build_object('code', t.code, 'name', t.name) END AS "to",
       e.day, e.outcome, e.text, e.entry IS NOT NULL AS "isByForm"
     FROM case_event e JOIN person p ON p.id = e.person LEFT JOIN device d ON d.id = e.device
       LEFT JOIN unit_latest f ON f.code = e.from_unit LEFT JOIN unit_latest t ON t.code = e.to_unit
     WHERE e.case_id = ANY($1::uuid[]) ORDER BY e.seq LIMIT ${MOST_EVENTS}`,
    [ids],
  )
}

/** Where the facilities that see some cases are in the tree. */
export const pathsOf = async (sql: Pick<Sql, 'query'>, cases: readonly string[]): Promise<string[][]> =>
  (
    await sql.query<{ path: string[] }>(
      'SELECT u.path FROM case_record c JOIN unit_latest u ON u.code = ANY(c.unit || c.shared_with) WHERE c.id = ANY($1::uuid[])',
      [cases],
    )
  ).map(({ path }) => path)

/** The line of the case that one belongs to; null where there is none, or it is another branch's. */
async function parentOf(
  sql: Pick<Sql, 'query'>,
  access: Access,
  parent: string | null,
  registers: ReadonlyMap<string, CaseRegister>,
): Promise<CaseFileView['parent']> {
  if (parent === null) return null
  const [root] = await rootsOf(sql, [parent])
  if (root === undefined) return null
  const paths = await pathsOf(sql, [root])
  if (!paths.some(path => holds(access.branch, path))) return null
  if (!(await seesCases(sql, access, [root]))) return null
  return (await caseLines(sql, [root], registers)).get(root) ?? null
}
