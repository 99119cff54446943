import { Gauge } from 'prom-client'
import { SILENT_DAYS } from '#core/contract/devices'
import type { Access } from '../access/access'
import { nowText } from '../clock'
import { database } from '../database'
import { registry } from '../measures/registry'
import { Refusal } from '../refusal'
import { version } from '../../package.json'

const gauge = <Label extends string = never>(name: string, help: string, labelNames: readonly Label[] = []) =>
  new Gauge<Label>({ name: `lantern_${name}`, help, labelNames, registers: [registry] })

const info = gauge('info', 'Always 1; says which version runs on which engine', [
  'version',
  'engine',
  'migration',
])
const jobs = gauge('jobs', 'Jobs that wait, run or failed in the last two days, by kind', ['kind', 'state'])
const oldestJob = gauge('oldest_waiting_job_seconds', 'For how long the oldest job that could run has waited')
const backupAge = gauge('backup_age_seconds', 'How old the newest backup is; not there where none was made')
const databaseBytes = gauge('database_bytes', 'How large the database is')
const devices = gauge('devices', 'Devices that are paired and not blocked: heard lately, or silent', [
  'state',
])
const received = gauge('last_received_timestamp_seconds', 'When something came from a device last')
const sendings = gauge('sendings', 'Signed reports on their way to recipients, by state', ['state'])

interface Row {
  bytes: number
  backup: number | null
  oldest: number | null
  heard: number
  silent: number
  last: number | null
}

/** Reads what the database knows. It is the same in every process. */
async function readDatabase(): Promise<void> {
  const sql = await database()
  const [row] = await sql.query<Row>(
    `SELECT pg_database_size(current_database())::float8 AS bytes,
       (SELECT extract(epoch FROM $1::timestamptz - max(at))::float8 FROM backup) AS backup,
       (SELECT extract(epoch FROM clock_timestamp() - min(not_before))::float8 FROM job
        WHERE state = 'waiting' AND not_before <= clock_timestamp()) AS oldest,
       (SELECT count(*) FROM device WHERE blocked_at IS NULL AND last_contact_at > $1::timestamptz - make_interval(days => $2))::int AS heard,
       (SELECT count(*) FROM device WHERE blocked_at IS NULL AND (last_contact_at IS NULL OR last_contact_at <= $1::timestamptz - make_interval(days => $2)))::int AS silent,
       (SELECT extract(epoch FROM max(last_contact_at))::float8 FROM device) AS last`,
    [nowText(), SILENT_DAYS],
  )
  const counted = await sql.query<{ kind: string; state: string; count: number }>(
    `SELECT kind, state, count(*)::int AS count FROM job
     WHERE state IN ('waiting', 'running') OR state = 'failed' AND ended_at > $1::timestamptz - interval '2 days' GROUP BY kind, state`,
    [nowText()],
  )
  const sent = await sql.query<{ state: string; count: number }>(
    'SELECT state, count(*)::int AS count FROM sending GROUP BY state',
  )
  info.reset()
  info.set({ version, engine: sql.engine, migration: String(sql.migration) }, 1)
  databaseBytes.set(row!.bytes)
  for (const [of, value] of [
    [backupAge, row!.backup],
    [oldestJob, row!.oldest],
    [received, row!.last],
  ] as const)
    if (value === null) of.remove()
    else of.set(Math.max(0, value))
  devices.set({ state: 'heard' }, row!.heard)
  devices.set({ state: 'silent' }, row!.silent)
  jobs.reset()
  for (const { kind, state, count } of counted) jobs.set({ kind, state }, count)
  sendings.reset()
  for (const { state, count } of sent) sendings.set({ state }, count)
}

/**
 * What to watch, in the text format of Prometheus (its exposition format, version 0.0.4): what the database knows,
 * and what this process measures of itself.
 * @throws Refusal 403 for who sees a part of the tree only
 */
export async function metrics(access: Access): Promise<string> {
  if (access.branch !== null)
    throw new Refusal(403, 'whole-only', 'This is for who sees the whole installation.')
  await readDatabase()
  return registry.metrics()
}

/** The media type of {@link metrics}. */
export const METRICS_TYPE = registry.contentType
