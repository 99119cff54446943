import { dayAt } from '#core/calendar/deadline'
import { parseDay, printDay } from '#core/calendar/day'
import { periodOfDay } from '#core/calendar/period'
import type { DraftFile, DraftLine, DraftReports, DraftSave } from '#core/contract/drafts'
import { differences } from '#core/define/differences'
import { readiness } from '#core/define/readiness'
import { expectedUnits } from '#core/geography/expected-units'
import type { Edition } from '#core/report/edition'
import { must } from '#core/result'
import { mustHold, type Access } from '../access/access'
import { now, nowText } from '../clock'
import { database, type Sql } from '../database'
import { conflict, notFound, Refusal } from '../http/refusal'
import { openRoundsAt } from '../rounds/open-rounds'
import { settings } from '../settings'
import { readTree } from '../units/tree'

/** The languages of the installation: labels and definitions should be there in each. */
const LANGUAGES = ['en', 'fr']

interface Kept { definition: Edition; reports: DraftReports; version: number; at: string; by: string }

const keptDraft = async (sql: Pick<Sql, 'query'>, dataset: string): Promise<Kept | undefined> => (await sql.query<Kept>(
  `SELECT d.definition, d.reports, d.version, d.updated_at AS at, p.display_name AS by FROM dataset_draft d JOIN person p ON p.id = d.updated_by WHERE d.dataset = $1`, [dataset]))[0]

const newestEdition = async (sql: Pick<Sql, 'query'>, dataset: string): Promise<Edition | null> =>
  (await sql.query<{ definition: Edition }>('SELECT definition FROM edition WHERE dataset = $1 ORDER BY number DESC LIMIT 1', [dataset]))[0]?.definition ?? null

/** All drafts, and the edition that each would follow. */
export async function listDrafts(): Promise<DraftLine[]> {
  const sql = await database()
  return sql.query<DraftLine>(
    `SELECT d.dataset, d.definition -> 'name' AS name, p.display_name AS by, d.updated_at AS at, (SELECT max(number) FROM edition e WHERE e.dataset = d.dataset) AS edition
     FROM dataset_draft d JOIN person p ON p.id = d.updated_by ORDER BY d.updated_at DESC`)
}

/** Who reports it now; the facilities of the person's branch where nobody does yet. */
async function reportsNow(sql: Pick<Sql, 'query'>, access: Access, dataset: string): Promise<DraftReports> {
  const [row] = await sql.query<DraftReports>('SELECT level, branch, from_day AS "from" FROM assignment WHERE dataset = $1 ORDER BY from_day DESC LIMIT 1', [dataset])
  if (row) return row
  const { facilityLevel, timeZone } = await settings()
  const [top] = await sql.query<{ code: string }>('SELECT code FROM unit_latest WHERE parent IS NULL ORDER BY code LIMIT 1')
  const branch = access.branch ?? top?.code
  if (!branch) throw conflict('no-units', 'There are no organisation units yet. Bring them in first.')
  return { level: facilityLevel, branch, from: `${printDay(dayAt(now(), timeZone)).slice(0, 7)}-01` }
}

/** Puts a draft together with all that is told about it. Asks no settings: it also runs inside a transaction, which nothing outside may wait in. */
async function fileOf(sql: Pick<Sql, 'query'>, kept: Omit<Kept, 'at' | 'by'> & Partial<Kept>, published: Edition | null, timeZone: string): Promise<DraftFile> {
  const { definition: draft, reports, version, at, by } = kept
  const tree = await readTree(sql)
  const today = Math.max(dayAt(now(), timeZone), must(parseDay(reports.from)))
  const units = expectedUnits(tree, [{ by: 'level', level: reports.level, branch: reports.branch, from: must(parseDay(reports.from)), to: null }], [], periodOfDay('day', today)).length
  return {
    draft, reports, version, kept: at && by ? { at, by } : null, published, units,
    lacks: readiness(draft, units, LANGUAGES), differences: published ? differences(published, draft) : [],
  }
}

/** The draft of a dataset; where there is none, its newest edition to begin one from. @throws Refusal 404. */
export async function draftFile(access: Access, dataset: string): Promise<DraftFile> {
  const sql = await database()
  const { timeZone } = await settings()
  const [kept, published] = [await keptDraft(sql, dataset), await newestEdition(sql, dataset)]
  if (kept) return fileOf(sql, kept, published, timeZone)
  if (!published) throw notFound('draft')
  return fileOf(sql, { definition: { ...published, number: published.number + 1 }, reports: await reportsNow(sql, access, dataset), version: 0 }, published, timeZone)
}

/** @throws Refusal 403 when the units that report, or have reported it, lie outside the person's branch. */
async function mustOwn(sql: Pick<Sql, 'query'>, access: Access, dataset: string, reports: DraftReports): Promise<void> {
  const rows = await sql.query<{ path: string }>(
    `SELECT path::text FROM unit_latest WHERE code = $2 OR code IN (SELECT branch FROM assignment WHERE dataset = $1)`, [dataset, reports.branch])
  if (!rows.length) throw new Refusal(422, 'no-unit', 'There is no such organisation unit.')
  rows.forEach(({ path }) => mustHold(access, path))
}

/**
 * Keeps a draft. Codes of what was published stay: a code that is gone and a new one in its place would tear the history.
 * @throws Refusal 409 `draft-changed` (with who and when) when it is not made on the version that is kept.
 */
export async function saveDraft(access: Access, dataset: string, { version, draft, reports }: DraftSave): Promise<DraftFile> {
  const sql = await database()
  const { timeZone } = await settings()
  return sql.transaction(async (tx) => {
    await mustOwn(tx, access, dataset, reports)
    const [kept, published] = [await keptDraft(tx, dataset), await newestEdition(tx, dataset)]
    if ((kept?.version ?? 0) !== version) {
      throw conflict('draft-changed', `${kept?.by ?? 'Somebody'} changed this draft meanwhile.`, [{ code: 'draft-changed', message: '', values: { by: kept?.by ?? '', at: kept?.at ?? '' } }])
    }
    if (version === 0 && !published && draft.dataset !== dataset) throw new Refusal(422, 'schema', 'The draft is of another dataset.')
    const definition = { ...draft, dataset, number: (published?.number ?? 0) + 1, ...(published && { frequency: published.frequency }) }
    const at = nowText()
    await tx.query(
      `INSERT INTO dataset_draft (dataset, definition, reports, version, updated_at, updated_by) VALUES ($1, $2, $3, 1, $4, $5)
       ON CONFLICT (dataset) DO UPDATE SET definition = EXCLUDED.definition, reports = EXCLUDED.reports, version = dataset_draft.version + 1, updated_at = EXCLUDED.updated_at, updated_by = EXCLUDED.updated_by`,
      [dataset, definition, reports, at, access.id])
    return fileOf(tx, { definition, reports, version: version + 1, at, by: access.displayName }, published, timeZone)
  })
}

/**
 * Publishes a draft as the next edition, for ever, and opens its rounds. Rounds that are open already keep their edition.
 * @throws Refusal 404, 409 `draft-changed`, `draft-not-ready`.
 */
export async function publishDraft(access: Access, dataset: string, version: number): Promise<number> {
  const sql = await database()
  const { timeZone } = await settings()
  return sql.transaction(async (tx) => {
    const kept = await keptDraft(tx, dataset)
    if (!kept) throw notFound('draft')
    if (kept.version !== version) throw conflict('draft-changed', `${kept.by} changed this draft meanwhile.`, [{ code: 'draft-changed', message: '', values: { by: kept.by, at: kept.at } }])
    await mustOwn(tx, access, dataset, kept.reports)
    const { draft, reports, lacks } = await fileOf(tx, kept, await newestEdition(tx, dataset), timeZone)
    if (lacks.some(({ weight }) => weight === 'must')) throw conflict('draft-not-ready', 'The draft still lacks something that it must have.')
    await tx.query('INSERT INTO dataset (code, name, frequency) VALUES ($1, $2, $3) ON CONFLICT (code) DO UPDATE SET name = EXCLUDED.name', [dataset, draft.name, draft.frequency])
    await tx.query('INSERT INTO edition (dataset, number, definition, published_at) VALUES ($1, $2, $3, $4)', [dataset, draft.number, draft, nowText()])
    await tx.query('INSERT INTO assignment (dataset, branch, level, from_day) VALUES ($1, $2, $3, $4) ON CONFLICT DO NOTHING', [dataset, reports.branch, reports.level, reports.from])
    await tx.query('DELETE FROM dataset_draft WHERE dataset = $1', [dataset])
    await openRoundsAt(tx, now(), timeZone)
    return draft.number
  })
}
