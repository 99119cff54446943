import { closeSync, existsSync, openSync, readFileSync, readSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { crc32c } from './crc32c'

/** The version of PostgreSQL that PGlite is. */
const VERSION = '18'
const CONTROL_FORMAT = 1800
/** Where the fields of the control file stand, in bytes (PostgreSQL 18, catalog/pg_control.h). */
const CONTROL = { size: 8192, format: 8, checkpoint: 32, redo: 40, timeline: 48, checksum: 292 }
const SEGMENT_SIZE = 16 * 2 ** 20
const LOG_PAGE_MAGIC = 0xd118
/** Folders without which the engine does not start. */
const FOLDERS = ['base', 'global', 'pg_wal', 'pg_xact', 'pg_multixact']

const hex = (value: number) => value.toString(16).toUpperCase().padStart(8, '0')

/** The file of the write-ahead log that holds a position. */
function segmentName(timeline: number, position: bigint): string {
  const segment = Number(position / BigInt(SEGMENT_SIZE))
  const segmentsPerFile = 2 ** 32 / SEGMENT_SIZE
  return `${hex(timeline)}${hex(Math.floor(segment / segmentsPerFile))}${hex(segment % segmentsPerFile)}`
}

function readAt(file: string, position: number, length: number): Buffer {
  const bytes = Buffer.alloc(length)
  const opened = openSync(file, 'r')
  try {
    readSync(opened, bytes, 0, length, position)
  } finally {
    closeSync(opened)
  }
  return bytes
}

/** Looks whether the log can be read at a position from which recovery would begin. */
function logProblem(folder: string, timeline: number, position: bigint): string | null {
  const name = segmentName(timeline, position)
  const file = join(folder, 'pg_wal', name)
  if (!existsSync(file)) return `pg_wal/${name}, the write-ahead log since the last checkpoint, is missing`
  if (statSync(file).size !== SEGMENT_SIZE) return `pg_wal/${name}, the write-ahead log, is cut off`
  const start = position - (position % BigInt(SEGMENT_SIZE))
  const head = readAt(file, 0, 16)
  const record = readAt(file, Number(position - start), 4)
  const isSound =
    head.readUInt16LE(0) === LOG_PAGE_MAGIC && head.readBigUInt64LE(8) === start && record.readUInt32LE(0) > 0
  return isSound ? null : `pg_wal/${name}, the write-ahead log, does not hold the last checkpoint`
}

/**
 * Looks whether a folder of the engine has what it needs to start, without changing anything in it: a start
 * of the engine on a damaged folder ends in `Aborted()`, or makes an empty database over what is left.
 *
 * @param folder the engine's own folder, with `PG_VERSION` in it
 * @returns what is wrong as part of a sentence, or null
 * @example engineProblem('/srv/lantern/postgres') // 'PG_VERSION is missing'
 */
export function engineProblem(folder: string): string | null {
  const version = join(folder, 'PG_VERSION')
  if (!existsSync(version)) return 'PG_VERSION is missing'
  const found = readFileSync(version, 'utf8').trim()
  if (found !== VERSION) return `PG_VERSION says “${found.slice(0, 20)}”, and this version needs ${VERSION}`
  const missing = FOLDERS.find(name => !existsSync(join(folder, name)))
  if (missing) return `the folder ${missing} is missing`

  const file = join(folder, 'global', 'pg_control')
  if (!existsSync(file)) return 'global/pg_control is missing'
  const control = readFileSync(file)
  if (control.length !== CONTROL.size)
    return `global/pg_control has ${control.length} bytes instead of ${CONTROL.size}`
  const isSound =
    control.readUInt32LE(CONTROL.format) === CONTROL_FORMAT &&
    control.readUInt32LE(CONTROL.checksum) === crc32c(control.subarray(0, CONTROL.checksum))
  if (!isSound) return 'global/pg_control is damaged'

  const timeline = control.readUInt32LE(CONTROL.timeline)
  return (
    logProblem(folder, timeline, control.readBigUInt64LE(CONTROL.redo)) ??
    logProblem(folder, timeline, control.readBigUInt64LE(CONTROL.checkpoint))
  )
}
