import { compileRegister } from '#core/cases/compile-register'
import { countedRegister, withCounts } from '#core/cases/counted'
import { dayAt } from '#core/calendar/deadline'
import { printDay } from '#core/calendar/day'
import type { DraftFile, DraftLine, DraftReporting, DraftReports, DraftSave } from '#core/contract/drafts'
import type { CaseRegister } from '#core/cases/register'
import { differences } from '#core/define/differences'
import { registersCounted } from '#core/reconcile/count-figures'
import { namedDataset, withOthers } from '#core/define/named-datasets'
import { readiness, type Lack } from '#core/define/readiness'
import { cycleOf, periodAbove, periodOfDay, type Calendar } from '#core/calendar/period'
import type { CountedRegister, Edition, NamedDataset } from '#core/report/edition'
import { LANGUAGES } from '#core/languages'
import type { Access } from '../access/access'
import { now, nowText } from '../clock'
import { database, type Sql } from '../database'
import { lockDefined, mustOwn, mustOwnOrClaim, owns } from '../definitions/owner'
import { conflict, notFound, Refusal } from '../refusal'
import { openRoundsAt } from '../rounds/open-rounds'
import { roundRef } from '../rounds/round'
import { settings, settingsHeld, type Settings } from '../settings'
import { mustBeVersion } from '../definitions/draft-version'
import { applyEdition, openRoundsOf } from './apply-edition'
import {
  assignmentsOf,
  mustOwnReporting,
  ownsReporting,
  reportingOf,
  writeAssignments,
} from '../datasets/reporting'

interface DraftRow {
  definition: Edition
  reports: DraftReports
  version: number
  at: string
  by: string
}

const draftRow = async (sql: Pick<Sql, 'query'>, dataset: string): Promise<DraftRow | undefined> =>
  (
    await sql.query<DraftRow>(
      `SELECT d.definition, d.reports, d.version, d.updated_at AS at, p.display_name AS by FROM dataset_draft d JOIN person p ON p.id = d.updated_by WHERE d.dataset = $1`,
      [dataset],
    )
  )[0]

/**
 * The registers that are published, as far as rules may count them; their own rules do not matter for that.
 */
async function countableRegisters(sql: Pick<Sql, 'query'>): Promise<CountedRegister[]> {
  const rows = await sql.query<{ definition: CaseRegister }>(
    'SELECT DISTINCT ON (register) definition FROM register_edition ORDER BY register, number DESC',
  )
  return rows.flatMap(({ definition }) => {
    const compiled = compileRegister({ ...definition, rules: [] })
    return compiled.ok ? [countedRegister(compiled.value)] : []
  })
}

/** The other datasets whose rounds roll up to those of a draft, as rules may name them. */
async function namableDatasets(
  sql: Pick<Sql, 'query'>,
  { dataset, frequency }: Pick<Edition, 'dataset' | 'frequency'>,
  calendar: Calendar,
): Promise<NamedDataset[]> {
  const rows = await sql.query<{ definition: Edition }>(
    'SELECT DISTINCT ON (dataset) definition FROM edition WHERE dataset <> $1 ORDER BY dataset, number DESC',
    [dataset],
  )
  return rows
    .filter(({ definition }) => {
      const finer = cycleOf(definition.frequency, calendar)
      return periodAbove(periodOfDay(finer, 0), cycleOf(frequency, calendar)).ok
    })
    .map(({ definition }) => namedDataset(definition))
}

const newestEdition = async (sql: Pick<Sql, 'query'>, dataset: string): Promise<Edition | null> =>
  (
    await sql.query<{ definition: Edition }>(
      'SELECT definition FROM edition WHERE dataset = $1 ORDER BY number DESC LIMIT 1',
      [dataset],
    )
  )[0]?.definition ?? null

/** All drafts, and the edition that each would follow. */
export async function listDrafts(): Promise<DraftLine[]> {
  const sql = await database()
  return sql.query<DraftLine>(
    `SELECT d.dataset, d.definition -> 'name' AS name, p.display_name AS by, d.updated_at AS at, (SELECT max(number) FROM edition e WHERE e.dataset = d.dataset) AS edition
     FROM dataset_draft d JOIN person p ON p.id = d.updated_by ORDER BY d.updated_at DESC`,
  )
}

/** Who reports it now; the facilities of the person's branch where nobody does yet. */
async function reportsNow(sql: Pick<Sql, 'query'>, access: Access, dataset: string): Promise<DraftReports> {
  const lines = await assignmentsOf(sql, dataset)
  if (lines.length) return lines
  const { facilityLevel, timeZone } = await settings()
  return [
    {
      by: 'level',
      level: facilityLevel,
      branch: access.branch,
      from: `${printDay(dayAt(now(), timeZone)).slice(0, 7)}-01`,
      to: null,
    },
  ]
}

/** Facilities that stay without the dataset: often meant so, and better said. */
const unitsWithout = ({ without, all }: DraftReporting): Lack[] =>
  without.count && all.count
    ? [
        {
          weight: 'should',
          code: 'units-without',
          at: 'dataset',
          values: {
            count: without.count,
            names: `${without.units
              .slice(0, 3)
              .map(({ name }) => name)
              .join(', ')}${without.count > 3 ? ' …' : ''}`,
          },
        },
      ]
    : []

/**
 * Builds the answer for a draft. Reads no settings: it also runs inside a transaction, where other
 * connections must not be awaited.
 */
async function fileOf(
  sql: Pick<Sql, 'query'>,
  access: Access,
  stored: Omit<DraftRow, 'at' | 'by'> & Partial<DraftRow>,
  published: Edition | null,
  { timeZone, facilityLevel, ...calendar }: Omit<Settings, 'installation'>,
): Promise<DraftFile> {
  const { definition: draft, reports, version, at, by } = stored
  const reporting = await reportingOf(
    sql,
    access,
    reports,
    await assignmentsOf(sql, draft.dataset),
    dayAt(now(), timeZone),
    facilityLevel,
  )
  return {
    draft,
    reports,
    version,
    registers: await countableRegisters(sql),
    datasets: await namableDatasets(sql, draft, calendar),
    openRounds: (await openRoundsOf(sql, draft.dataset)).map(roundRef),
    saved: at && by ? { at, by } : null,
    published,
    reporting,
    mine:
      (await owns(sql, access, { kind: 'dataset', code: draft.dataset })) &&
      (await ownsReporting(sql, access, draft.dataset, reports)),
    lacks: [...readiness(draft, reporting.all.count, LANGUAGES, published), ...unitsWithout(reporting)],
    differences: published ? differences(published, draft) : [],
  }
}

/** The draft of a dataset; where there is none, its newest edition to begin one from. @throws Refusal 404. */
export async function draftFile(access: Access, dataset: string): Promise<DraftFile> {
  const sql = await database()
  const all = await settings()
  const [stored, published] = [await draftRow(sql, dataset), await newestEdition(sql, dataset)]
  if (stored) return fileOf(sql, access, stored, published, all)
  if (!published) throw notFound('draft')
  return fileOf(
    sql,
    access,
    {
      definition: { ...published, number: published.number + 1 },
      reports: await reportsNow(sql, access, dataset),
      version: 0,
    },
    published,
    all,
  )
}

/**
 * Keeps a draft. Codes of what was published stay: a code that is gone and a new one in its place would tear
 * the history.
 * @throws Refusal 409 `draft-changed` (with who and when) when it is not made on the version that is stored.
 */
export async function saveDraft(
  access: Access,
  dataset: string,
  { version, draft, reports }: DraftSave,
): Promise<DraftFile> {
  const sql = await database()
  const all = await settings()
  return sql.transaction(async tx => {
    await lockDefined(tx, [{ kind: 'dataset', code: dataset }])
    await mustOwnOrClaim(tx, access, { kind: 'dataset', code: dataset })
    await mustOwnReporting(tx, access, dataset, reports)
    const [stored, published] = [await draftRow(tx, dataset), await newestEdition(tx, dataset)]
    mustBeVersion(stored, version)
    if (version === 0 && !published && draft.dataset !== dataset)
      throw new Refusal(422, 'schema', 'The draft is of another dataset.')
    const definition = {
      ...withOthers(
        withCounts(draft, await countableRegisters(tx)),
        await namableDatasets(tx, { ...draft, dataset }, all),
      ),
      dataset,
      number: (published?.number ?? 0) + 1,
      ...(published && { frequency: published.frequency }),
    }
    const at = nowText()
    await tx.query(
      `INSERT INTO dataset_draft (dataset, definition, reports, version, updated_at, updated_by) VALUES ($1, $2, $3::jsonb, 1, $4, $5)
       ON CONFLICT (dataset) DO UPDATE SET definition = EXCLUDED.definition, reports = EXCLUDED.reports, version = dataset_draft.version + 1, updated_at = EXCLUDED.updated_at, updated_by = EXCLUDED.updated_by`,
      [dataset, definition, JSON.stringify(reports), at, access.id],
    )
    return fileOf(
      tx,
      access,
      { definition, reports, version: version + 1, at, by: access.displayName },
      published,
      all,
    )
  })
}

/**
 * Publishes a draft as the next edition, for ever, and opens its rounds.
 * @param from the earliest open round that gets it: all open ones without it, none for `null` (see {@link
 *   applyEdition}).
 * @throws Refusal 404, 409 `draft-changed`, `draft-not-ready`.
 */
export async function publishDraft(
  access: Access,
  dataset: string,
  version: number,
  from?: string | null,
): Promise<number> {
  const sql = await database()
  return sql.transaction(async tx => {
    const all = await settingsHeld(tx)
    await lockDefined(tx, [{ kind: 'dataset', code: dataset }])
    const stored = await draftRow(tx, dataset)
    if (!stored) throw notFound('draft')
    mustBeVersion(stored, version)
    await mustOwn(tx, access, { kind: 'dataset', code: dataset })
    await mustOwnReporting(tx, access, dataset, stored.reports)
    const { draft, reports, lacks } = await fileOf(tx, access, stored, await newestEdition(tx, dataset), all)
    if (lacks.some(({ weight }) => weight === 'must'))
      throw conflict('draft-not-ready', 'The draft still lacks something that it must have.')
    await tx.query(
      'INSERT INTO dataset (code, name, frequency) VALUES ($1, $2, $3) ON CONFLICT (code) DO UPDATE SET name = EXCLUDED.name',
      [dataset, draft.name, draft.frequency],
    )
    await tx.query(
      'INSERT INTO edition (dataset, number, definition, published_at, reports, others, counts) VALUES ($1, $2, $3, $4, $5::jsonb, $6, $7)',
      [
        dataset,
        draft.number,
        draft,
        nowText(),
        JSON.stringify(reports),
        (draft.others ?? []).map(other => other.dataset),
        registersCounted(draft),
      ],
    )
    await writeAssignments(tx, dataset, reports)
    await tx.query('DELETE FROM dataset_draft WHERE dataset = $1', [dataset])
    await openRoundsAt(tx, now(), all)
    await applyEdition(tx, draft, from)
    return draft.number
  })
}
