import type { ExtractDefinition } from '#core/contract/extracts'
import { RECEIVED_STATES } from '#core/report/state'
import { branchPath, unitAsked, type Access } from '../access/access'
import { sharedCases } from '../cases/shared'
import { CASES, dayOf, daysBetween, Where } from '../cases/where'
import type { Sql } from '../database'
import { settings } from '../settings'

type Asked = Pick<ExtractDefinition, 'of' | 'rows' | 'form' | 'filters'> & {
  /** Only what was received after this instant. */
  since?: string
}

/** For queries: the tables of reports `p`, and of the entries `e` of cases `c`. */
export const REPORTS = 'report p JOIN round r ON r.id = p.round JOIN unit_latest u ON u.code = p.unit'
export const ENTRIES =
  'case_entry e JOIN case_record c ON c.id = e.case_id JOIN unit_latest u ON u.code = c.unit'

async function ofUnit(access: Access, { unit }: Asked['filters'], where: Where): Promise<void> {
  const branch = unit ? (await unitAsked(access, unit)).code : access.branch
  where.parts.push(`u.path @> ${where.param(branchPath(branch))}::text[]`)
}

/** Conditions that an entry `e` was filled by a person, or from a device. */
const entryBy = ({ person, device }: Asked['filters'], where: Where): string[] => [
  ...(person ? [`e.person = ${where.param(person)}`] : []),
  ...(device ? [`e.device = ${where.param(device)}`] : []),
]

/**
 * What was received so long before the last file began may have been committed only after it was read: it is taken
 * again, because a row that comes twice can be seen by its identifier, and one that never comes cannot.
 */
const COMMITTED_LATE = "interval '2 minutes'"

/** Conditions that a person filled a part of a report `p`, from a device. */
const reportBy = ({ person, device }: Asked['filters'], where: Where): string[] => {
  if (!person && !device) return []
  const by = [
    'x.report = p.id',
    ...(person ? [`x.person = ${where.param(person)}`] : []),
    ...(device
      ? [`EXISTS (SELECT 1 FROM received_change h WHERE h.id = x.id AND h.device = ${where.param(device)})`]
      : []),
  ]
  return [`EXISTS (SELECT 1 FROM cell_event x WHERE ${by.join(' AND ')})`]
}

async function ofReports(access: Access, { of, filters, since }: Asked): Promise<Where> {
  const where = new Where()
  const { timeZone } = await settings()
  where.parts.push(`r.dataset = ${where.param(of)}`)
  await ofUnit(access, filters, where)
  where.parts.push(`p.state = ANY(${where.param(filters.states ?? RECEIVED_STATES)}::text[])`)
  where.parts.push(
    ...(filters.by === 'received'
      ? daysBetween(where, filters, () => dayOf('p.received_at', where.param(timeZone)))
      : daysBetween(where, filters, () => 'r.last_day')),
    ...reportBy(filters, where),
    ...(since ? [`p.received_at > ${where.param(since)}::timestamptz - ${COMMITTED_LATE}`] : []),
  )
  return where
}

/** By which day of an entry `e` it is taken. */
const DAY_OF_ENTRY = {
  period: 'happened_on',
  happened: 'happened_on',
  made: 'made_at',
  received: 'received_at',
}

async function ofCases(sql: Pick<Sql, 'query'>, access: Access, asked: Asked): Promise<Where> {
  const { of, rows, form, filters, since } = asked
  const where = new Where()
  const { timeZone } = await settings()
  where.parts.push(`c.register = ${where.param(of)}`)
  await ofUnit(access, filters, where)
  where.parts.push(await sharedCases(sql, access, where))
  const column = `e.${DAY_OF_ENTRY[filters.by ?? 'happened']}`
  const isDay = column === 'e.happened_on'
  const within = daysBetween(where, filters, () => (isDay ? column : dayOf(column, where.param(timeZone))))
  if (filters.state) where.parts.push(`c.closed_on IS ${filters.state === 'closed' ? 'NOT NULL' : 'NULL'}`)
  if (since)
    where.parts.push(
      `${rows === 'entry' ? 'e' : 'c'}.received_at > ${where.param(since)}::timestamptz - ${COMMITTED_LATE}`,
    )
  const ofEntry = [
    ...(form === undefined ? [] : [`e.form = ${where.param(form)}`]),
    ...within,
    ...entryBy(filters, where),
  ]
  if (rows === 'entry') {
    where.parts.push(...ofEntry)
    return where
  }
  where.parts.push('c.merged_into IS NULL')
  if (ofEntry.length)
    where.parts.push(
      `EXISTS (SELECT 1 FROM case_entry e WHERE e.case_id = c.id AND ${ofEntry.join(' AND ')})`,
    )
  return where
}

/**
 * The conditions of what an extract takes, without its condition in words of the form: of the person's branch,
 * and shared with them.
 *
 * @throws Refusal 403, 404 for a unit outside the branch
 */
export const conditionsOf = (sql: Pick<Sql, 'query'>, access: Access, asked: Asked): Promise<Where> =>
  asked.rows === 'report' || asked.rows === 'cell' ? ofReports(access, asked) : ofCases(sql, access, asked)

const COUNTED: Readonly<Record<ExtractDefinition['rows'], (where: Where, cells: string[] | null) => string>> =
  {
    report: () => `SELECT count(*) AS count FROM ${REPORTS}`,
    cell: (where, cells) =>
      `SELECT count(*) AS count FROM cell_value v JOIN (${REPORTS}) ON v.report = p.id AND v.kind <> 'blank'${
        cells ? ` AND v.cell = ANY(${where.param(cells)}::text[])` : ''
      }`,
    case: () => `SELECT count(*) AS count FROM ${CASES}`,
    entry: () => `SELECT count(*) AS count FROM ${ENTRIES}`,
  }

/**
 * How many rows an extract has.
 * @param cells the keys of the cells that are rows; null is all of them
 */
export async function countRows(
  sql: Pick<Sql, 'query'>,
  access: Access,
  asked: Asked,
  cells: string[] | null,
): Promise<number> {
  const where = await conditionsOf(sql, access, asked)
  const text = `${COUNTED[asked.rows](where, cells)} WHERE ${where.text}`
  const [row] = await sql.query<{ count: number }>(text, where.values)
  return row!.count
}
