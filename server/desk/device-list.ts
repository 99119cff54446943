import { SILENT_DAYS, type DeviceLine, type DeviceList, type DeviceQuery } from '#core/contract/devices'
import { searchWords } from '#core/form/code'
import { branchPath, type Access } from '../access/access'
import { nowText } from '../clock'
import { database } from '../database'
import { standIn } from '../database/patterns'

/** How many a page has. */
const PAGE = 50

type Row = Omit<DeviceLine, 'unit' | 'isEarlier'> & { code: string; unitName: string; version: string | null }

/** Devices `d` that were not heard since `$2`. */
const SILENT = 'd.blocked_at IS NULL AND coalesce(d.last_contact_at, d.paired_at) < $2'

/** Which devices `d` are of a kind. */
const SHOWS: Readonly<Record<keyof DeviceList['counts'], string>> = {
  all: 'true',
  silent: SILENT,
  silentWaiting: `${SILENT} AND d.waiting > 0`,
  waiting: 'd.blocked_at IS NULL AND d.waiting > 0',
  blocked: 'd.blocked_at IS NOT NULL',
}

/** The longest silent first; one that is blocked is silent for a reason, and comes after them. */
const orderOf = (row: string) =>
  `${row}.blocked_at IS NOT NULL, coalesce(${row}.last_contact_at, ${row}.paired_at), ${row}.id`

/**
 * A page of the devices of the branch, the longest silent first, and how many there are of each kind.
 * @param version the build of the application that the district runs
 */
export async function listDevices(
  access: Access,
  { show = 'all', find = '', after }: DeviceQuery,
  version: string | null,
): Promise<DeviceList> {
  const sql = await database()
  const silentSince = new Date(Date.parse(nowText()) - SILENT_DAYS * 86_400_000).toISOString()
  const tables = 'device d JOIN unit_latest u ON u.code = d.unit'
  const branch = 'u.path @> $1::text[]'
  const parts = searchWords(find)
  const { condition, patterns } = standIn(`(u.search_text || ' ' || lower(d.name))`, parts, 4)
  const rows = await sql.query<Row>(
    `SELECT d.id, d.name, d.unit AS code, u.name AS "unitName", d.paired_at AS "pairedAt", d.last_contact_at AS "lastContactAt",
       p.display_name AS "lastPerson", d.clock_off_ms AS "clockOffMs", d.blocked_at IS NOT NULL AS blocked,
       d.lets_in AS "letsIn", d.waiting, d.needs_person AS "needsPerson", d.storage_share AS "storageShare",
       d.app_version AS version,
       ((SELECT count(*) FROM edition e WHERE e.published_at > coalesce(d.last_contact_at, d.paired_at))
         + (SELECT count(*) FROM register_edition e WHERE e.published_at > coalesce(d.last_contact_at, d.paired_at)))::int AS "lacksEditions"
     FROM ${tables} LEFT JOIN person p ON p.id = d.last_person
     WHERE ${branch} AND $2::timestamptz IS NOT NULL AND ${SHOWS[show]} AND ${condition}
       AND ($3::uuid IS NULL OR (${orderOf('d')}) > (SELECT ${orderOf('a')} FROM device a WHERE a.id = $3))
     ORDER BY ${orderOf('d')} LIMIT ${PAGE + 1}`,
    [branchPath(access.branch), silentSince, after ?? null, ...patterns],
  )
  const [counts] = await sql.query<DeviceList['counts']>(
    `SELECT ${Object.entries(SHOWS)
      .map(([name, of]) => `count(*) FILTER (WHERE ${of})::int AS "${name}"`)
      .join(', ')} FROM ${tables} WHERE ${branch} AND $2::timestamptz IS NOT NULL`,
    [branchPath(access.branch), silentSince],
  )
  return {
    lines: rows.slice(0, PAGE).map(({ code, unitName, version: own, ...row }) => ({
      ...row,
      unit: { code, name: unitName },
      isEarlier: own !== null && version !== null && own !== version,
    })),
    more: rows.length > PAGE,
    counts: counts!,
  }
}
