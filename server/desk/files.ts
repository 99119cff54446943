import { createHash } from 'node:crypto'
import { LARGEST_FILE } from '#core/contract/desk'
import { mediaTypeOf } from '#core/exchange/media-type'
import { branchPath, type Access } from '../access/access'
import { nowText } from '../clock'
import { sharedCases } from '../cases/shared'
import { Where } from '../cases/where'
import { database, type Sql } from '../database'
import { notFound, Refusal } from '../refusal'
import type { Device } from './devices'

interface Piece {
  start: number
  bytes: number
  data: string
}

/** How much of a file is here without a gap, from its beginning. */
async function upTo(tx: Sql, hash: string, unit: string): Promise<number> {
  const pieces = await tx.query<{ start: number; length: number }>(
    'SELECT start, length(data) AS length FROM stored_piece WHERE hash = $1 AND unit = $2 ORDER BY start',
    [hash, unit],
  )
  return pieces.reduce((end, { start, length }) => (start <= end ? Math.max(end, start + length) : end), 0)
}

type Came = { upTo: number; done: boolean; problem: null | 'file-changed' | 'file-kind' }

/**
 * Stores a piece in its place. A piece that comes again replaces the one before: that one may have been the
 * wrong one.
 */
async function storePiece(tx: Sql, unit: string, hash: string, { start, bytes, data }: Piece): Promise<Came> {
  await tx.query('INSERT INTO stored_file (hash, unit, bytes) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING', [
    hash,
    unit,
    bytes,
  ])
  const [file] = await tx.query<{ bytes: number; done: boolean }>(
    'SELECT bytes, received_at IS NOT NULL AS done FROM stored_file WHERE hash = $1 AND unit = $2 FOR UPDATE',
    [hash, unit],
  )
  if (file!.done) return { upTo: file!.bytes, done: true, problem: null }
  if (file!.bytes !== bytes) {
    // One of the two sizes is wrong, and nobody knows which: begin anew with this one.
    await tx.query('DELETE FROM stored_piece WHERE hash = $1 AND unit = $2', [hash, unit])
    await tx.query('UPDATE stored_file SET bytes = $3 WHERE hash = $1 AND unit = $2', [hash, unit, bytes])
  }
  await tx.query(
    'INSERT INTO stored_piece (hash, unit, start, data) VALUES ($1, $2, $3, $4) ON CONFLICT (hash, unit, start) DO UPDATE SET data = EXCLUDED.data',
    [hash, unit, start, Buffer.from(data, 'base64')],
  )
  const here = await upTo(tx, hash, unit)
  if (here < bytes) return { upTo: here, done: false, problem: null }
  const whole = await wholeOf(tx, hash, unit, bytes)
  const mediaType = mediaTypeOf(whole)
  const problem =
    createHash('sha256').update(whole).digest('hex') !== hash
      ? 'file-changed'
      : mediaType
        ? null
        : 'file-kind'
  if (problem) {
    await tx.query('DELETE FROM stored_file WHERE hash = $1 AND unit = $2', [hash, unit])
    return { upTo: 0, done: false, problem }
  }
  await tx.query('UPDATE stored_file SET media_type = $3, received_at = $4 WHERE hash = $1 AND unit = $2', [
    hash,
    unit,
    mediaType,
    nowText(),
  ])
  return { upTo: bytes, done: true, problem: null }
}

/**
 * Stores a piece of a picture or sound. The whole is checked when the last piece is there: bytes with another
 * hash, or that are neither a picture nor a sound, are removed, and the device sends the file again from its
 * beginning.
 *
 * @returns up to which byte the file is here without a gap: the device goes on from there
 * @throws Refusal 422 `file-changed`, `file-kind`, `file-piece` (reaches beyond the announced size), 413
 *   `body-too-large`
 */
export async function applyPiece(
  device: Pick<Device, 'unit'>,
  hash: string,
  piece: Piece,
): Promise<{ upTo: number; done: boolean }> {
  if (piece.bytes > LARGEST_FILE) throw new Refusal(413, 'body-too-large', 'This file is too large.')
  const length = Buffer.byteLength(piece.data, 'base64')
  if (piece.start + length > piece.bytes)
    throw new Refusal(422, 'file-piece', 'This piece reaches beyond the end of its file.')
  const sql = await database()
  const { problem, ...came } = await sql.transaction(tx => storePiece(tx, device.unit, hash, piece))
  if (problem === 'file-kind')
    throw new Refusal(422, problem, 'These bytes are neither a picture nor a sound.')
  if (problem) throw new Refusal(422, problem, 'The file was changed on its way.')
  return came
}

/** The file from its pieces. @param bytes its announced size, beyond which no piece reaches. */
async function wholeOf(sql: Pick<Sql, 'query'>, hash: string, unit: string, bytes: number): Promise<Buffer> {
  const pieces = await sql.query<{ start: number; data: Uint8Array }>(
    'SELECT start, data FROM stored_piece WHERE hash = $1 AND unit = $2 ORDER BY start',
    [hash, unit],
  )
  const whole = Buffer.alloc(bytes)
  pieces.forEach(({ start, data }) => whole.set(data, start))
  return whole
}

/** A picture or sound of the person's branch. @throws Refusal 404. */
export async function storedFile(
  access: Access,
  hash: string,
): Promise<{ mediaType: string; bytes: Buffer }> {
  const sql = await database()
  const where = new Where(4)
  const shared = await sharedCases(sql, access, where)
  // What stands in a case that is not shared stays unseen; without a condition nothing is looked up.
  const isShared =
    shared === 'true'
      ? 'true'
      : `EXISTS (SELECT 1 FROM case_record m JOIN case_record c ON c.id = coalesce(m.merged_into, m.id)
           JOIN case_entry e ON e.case_id = m.id
         WHERE f.unit = m.unit AND e.answers::text LIKE '%' || $1 || '%' AND ${shared})`
  const [file] = await sql.query<{ unit: string; mediaType: string; bytes: number }>(
    `SELECT f.unit, f.bytes, f.media_type AS "mediaType" FROM stored_file f JOIN unit_latest u ON u.code = f.unit WHERE f.hash = $1 AND f.received_at IS NOT NULL AND u.path @> $2::text[]
     AND ($3::uuid IS NULL OR EXISTS (SELECT 1 FROM case_entry e WHERE e.person = $3 AND e.answers::text LIKE '%' || $1 || '%'))
       AND ${isShared} LIMIT 1`,
    [hash, branchPath(access.branch), access.ownOnly ? access.id : null, ...where.values],
  )
  if (!file) throw notFound('file')
  return { mediaType: file.mediaType, bytes: await wholeOf(sql, hash, file.unit, file.bytes) }
}
