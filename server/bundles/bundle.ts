import type { CaseRegister } from '#core/cases/register'
import type { BundleLine } from '#core/contract/definitions'
import { DraftEdition, DraftReports, type ReportsLine } from '#core/contract/drafts'
import { ChoiceListDefinition, DraftRegister } from '#core/contract/registers'
import { exact } from '#core/contract/common'
import { UnitGroupLine } from '#core/contract/units'
import { differences } from '#core/define/differences'
import type { ChoiceList } from '#core/define/choice-list'
import { registerDifferences } from '#core/define/register-differences'
import { same } from '#core/same'
import { printBundle } from '#core/exchange/bundle'
import type { Edition, Words } from '#core/report/edition'
import type { Access } from '../access/access'
import { draftFile, saveDraft } from '../publishing/dataset-drafts'
import { assignmentsByDataset } from '../datasets/reporting'
import { database, type Database } from '../database'
import { Refusal } from '../refusal'
import { validate } from '../http/validate'
import { choiceLists, saveChoiceList } from '../registers/choice-lists'
import { newestRegister, saveRegister } from '../registers/drafts'
import { runHeavy } from '../threads/run-heavy'
import { readBundleText } from './read-bundle'
import { listGroups, saveGroup } from '../units/groups'

/** Everything that is published here, as one file. */
export async function exportBundle(access: Access): Promise<string> {
  const sql = await database()
  const editions = await sql.query<{ definition: Edition }>(
    'SELECT DISTINCT ON (dataset) definition FROM edition ORDER BY dataset, number DESC',
  )
  const registers = await sql.query<{ definition: CaseRegister }>(
    'SELECT DISTINCT ON (register) definition FROM register_edition ORDER BY register, number DESC',
  )
  const reports = await assignmentsByDataset(
    sql,
    editions.map(({ definition }) => definition.dataset),
  )
  return printBundle({
    datasets: editions.map(({ definition }) => ({
      edition: definition,
      reports: reports.get(definition.dataset)!,
    })),
    registers: registers.map(({ definition }) => definition),
    lists: (await choiceLists()).map(({ list }) => list),
    groups: await listGroups(access),
  })
}

/** One part of a bundle: its verdict, and how it is imported. */
interface Part {
  line: BundleLine
  take: () => Promise<unknown>
}

const line = (
  what: BundleLine['what'],
  code: string,
  name: Words,
  more: Partial<BundleLine>,
): BundleLine => ({ what, code, name, verdict: 'new', differences: 0, problem: '', lost: [], ...more })

/** A part of the right shape, or a line that says what is wrong with it. */
function shaped<T extends object>(
  what: BundleLine['what'],
  value: unknown,
  codeKey: string,
  check: () => T,
): { value: T } | BundleLine {
  try {
    return { value: check() }
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    const named = (typeof value === 'object' && value !== null ? value : {}) as Record<string, unknown>
    const [first] = error.problems
    return line(
      what,
      String(named[codeKey] ?? ''),
      {},
      {
        verdict: 'refused',
        problem: [first?.at, first?.message || error.message].filter(Boolean).join(': '),
      },
    )
  }
}

const isLine = (read: object): read is BundleLine => 'verdict' in read

async function datasetPart(
  sql: Database,
  access: Access,
  value: { edition?: unknown; reports?: unknown },
): Promise<Part> {
  const read = shaped('dataset', value.edition, 'dataset', () => ({
    edition: validate(DraftEdition, value.edition, 'body') as Edition,
    reports: validate(DraftReports, value.reports ?? [], 'body') as DraftReports,
  }))
  if (isLine(read)) return { line: read, take: () => Promise.resolve() }
  const { edition, reports } = read.value
  const named = (one: ReportsLine) => ('unit' in one ? one.unit : 'branch' in one ? one.branch : null)
  const known = new Set((await sql.query<{ code: string }>('SELECT code FROM unit')).map(({ code }) => code))
  const groups = new Set(
    (await sql.query<{ code: string }>('SELECT code FROM unit_group')).map(({ code }) => code),
  )
  const fits = (one: ReportsLine) =>
    one.by === 'group' ? groups.has(one.group) : named(one) === null || known.has(named(one)!)
  const lost = reports
    .filter(one => !fits(one))
    .map(one => `reports: ${one.by === 'group' ? one.group : named(one)}`)
  const [draft] = await sql.query('SELECT 1 FROM dataset_draft WHERE dataset = $1', [edition.dataset])
  const [newest] = await sql.query<{ definition: Edition }>(
    'SELECT definition FROM edition WHERE dataset = $1 ORDER BY number DESC LIMIT 1',
    [edition.dataset],
  )
  const found = newest ? differences(newest.definition, edition).length : 0
  const frequency = newest && newest.definition.frequency !== edition.frequency ? ['frequency'] : []
  const verdict = draft ? 'draftInTheWay' : !newest ? 'new' : found ? 'changed' : 'same'
  return {
    line: line('dataset', edition.dataset, edition.name, {
      verdict,
      differences: found,
      lost: [...lost, ...frequency],
    }),
    take: async () => {
      // What is here decides who reports it; a new one begins with those lines of the file that mean
      // something here.
      const begun = newest ? (await draftFile(access, edition.dataset)).reports : reports.filter(fits)
      return saveDraft(access, edition.dataset, { version: 0, draft: edition, reports: begun })
    },
  }
}

async function registerPart(sql: Database, access: Access, value: unknown): Promise<Part> {
  const read = shaped('register', value, 'code', () => validate(DraftRegister, value, 'body') as CaseRegister)
  if (isLine(read)) return { line: read, take: () => Promise.resolve() }
  const register = read.value
  const [draft] = await sql.query('SELECT 1 FROM register_draft WHERE register = $1', [register.code])
  const newest = await newestRegister(sql, register.code)
  const found = newest ? registerDifferences(newest.definition, register).length : 0
  return {
    line: line('register', register.code, register.name, {
      verdict: draft ? 'draftInTheWay' : !newest ? 'new' : found ? 'changed' : 'same',
      differences: found,
    }),
    take: () => saveRegister(access, register.code, { version: 0, draft: register }),
  }
}

async function listPart(
  access: Access,
  value: unknown,
  here: Awaited<ReturnType<typeof choiceLists>>,
): Promise<Part> {
  const read = shaped(
    'list',
    value,
    'code',
    () => validate(ChoiceListDefinition, value, 'body') as ChoiceList,
  )
  if (isLine(read)) return { line: read, take: () => Promise.resolve() }
  const list = read.value
  const known = here.find(one => one.list.code === list.code)
  return {
    line: line('list', list.code, list.name, {
      verdict: !known ? 'new' : same(known.list, list) ? 'same' : 'changed',
    }),
    take: () => saveChoiceList(access, list.code, { version: known?.version ?? 0, list }),
  }
}

async function groupPart(
  sql: Database,
  access: Access,
  value: unknown,
  here: UnitGroupLine[],
): Promise<Part> {
  const read = shaped(
    'group',
    value,
    'code',
    () => validate(exact(UnitGroupLine.properties), value, 'body') as UnitGroupLine,
  )
  if (isLine(read)) return { line: read, take: () => Promise.resolve() }
  const group = read.value
  const known = new Set((await sql.query<{ code: string }>('SELECT code FROM unit')).map(({ code }) => code))
  const old = here.find(({ code }) => code === group.code)
  const members = group.members.filter(({ unit }) => known.has(unit))
  return {
    line: line('group', group.code, group.name, {
      verdict: !old ? 'new' : same(old, group) ? 'same' : 'changed',
      lost: group.members.filter(({ unit }) => !known.has(unit)).map(({ unit }) => `members: ${unit}`),
    }),
    take: () => saveGroup(access, group.code, { name: group.name, members }),
  }
}

/** Lists and groups come first: registers and datasets speak of them. */
async function partsOf(access: Access, text: string): Promise<Part[]> {
  const bundle = await runHeavy('readBundleText', readBundleText, text)
  const sql = await database()
  const [lists, groups] = [await choiceLists(), await listGroups(access)]
  const parts: Part[] = []
  for (const value of bundle.lists) parts.push(await listPart(access, value, lists))
  for (const value of bundle.groups) parts.push(await groupPart(sql, access, value, groups))
  for (const value of bundle.registers) parts.push(await registerPart(sql, access, value))
  for (const value of bundle.datasets) parts.push(await datasetPart(sql, access, value))
  return parts
}

/** What a bundle would bring. Nothing is changed. @throws Refusal 422 when it is no bundle. */
export const previewBundle = async (access: Access, text: string): Promise<BundleLine[]> =>
  (await partsOf(access, text)).map(part => part.line)

/**
 * Takes chosen parts of a bundle in: datasets and registers as drafts, which somebody reads before they are
 * published; lists and groups as they are. If one part is rejected, the others are still imported. Groups
 * need the right to manage units.
 */
export async function takeBundle(
  access: Access,
  text: string,
  wanted: readonly { what: string; code: string }[],
  mayGroups: boolean,
): Promise<BundleLine[]> {
  const parts = await partsOf(access, text)
  const lines: BundleLine[] = []
  for (const part of parts) {
    const { what, code, verdict } = part.line
    if (
      !wanted.some(one => one.what === what && one.code === code) ||
      verdict === 'refused' ||
      verdict === 'draftInTheWay'
    ) {
      lines.push(part.line)
      continue
    }
    try {
      if (what === 'group' && !mayGroups)
        throw new Refusal(403, 'no-permission', 'Your role does not allow this.')
      await part.take()
      lines.push({ ...part.line, verdict: 'taken' })
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      lines.push({ ...part.line, verdict: 'refused', problem: error.message })
    }
  }
  return lines
}
