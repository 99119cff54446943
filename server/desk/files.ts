import { createHash } from 'node:crypto'
import { LARGEST_FILE } from '#core/contract/desk'
import { mediaTypeOf } from '#core/exchange/media-type'
import { branchPattern, type Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { notFound, Refusal } from '../http/refusal'
import type { Device } from './devices'

interface Piece { start: number; bytes: number; data: string }

/** How much of a file is here without a gap, from its beginning. */
async function upTo(tx: Sql, hash: string, unit: string): Promise<number> {
  const pieces = await tx.query<{ start: number; length: number }>('SELECT start, length(data) AS length FROM stored_piece WHERE hash = $1 AND unit = $2 ORDER BY start', [hash, unit])
  return pieces.reduce((end, { start, length }) => (start <= end ? Math.max(end, start + length) : end), 0)
}

/**
 * Takes in a piece of a picture or sound. The whole is looked at when the last piece is there: bytes that have another
 * hash, or are neither a picture nor a sound, are thrown away and refused.
 * @throws Refusal 422 `file-changed`, `file-kind`, 413 `body-too-large`.
 */
export async function takeInPiece(device: Device, hash: string, { start, bytes, data }: Piece): Promise<{ upTo: number; done: boolean }> {
  if (bytes > LARGEST_FILE) throw new Refusal(413, 'body-too-large', 'This file is too large.')
  const sql = await database()
  const came = await sql.transaction(async (tx) => {
    await tx.query('INSERT INTO stored_file (hash, unit, bytes) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING', [hash, device.unit, bytes])
    const [file] = await tx.query<{ bytes: number; done: boolean }>('SELECT bytes, received_at IS NOT NULL AS done FROM stored_file WHERE hash = $1 AND unit = $2 FOR UPDATE', [hash, device.unit])
    if (file!.done) return { upTo: file!.bytes, done: true, wrong: null }
    const piece = Buffer.from(data, 'base64')
    await tx.query('INSERT INTO stored_piece (hash, unit, start, data) VALUES ($1, $2, $3, $4) ON CONFLICT DO NOTHING', [hash, device.unit, start, piece])
    const here = await upTo(tx, hash, device.unit)
    if (here < file!.bytes) return { upTo: here, done: false, wrong: null }
    const whole = await wholeOf(tx, hash, device.unit)
    const mediaType = mediaTypeOf(whole)
    const wrong = createHash('sha256').update(whole).digest('hex') !== hash ? 'file-changed' : mediaType ? null : 'file-kind'
    if (wrong) await tx.query('DELETE FROM stored_file WHERE hash = $1 AND unit = $2', [hash, device.unit])
    else await tx.query('UPDATE stored_file SET media_type = $3, received_at = $4 WHERE hash = $1 AND unit = $2', [hash, device.unit, mediaType, nowText()])
    return { upTo: here, done: true, wrong }
  })
  if (came.wrong) throw new Refusal(422, came.wrong, came.wrong === 'file-kind' ? 'These bytes are neither a picture nor a sound.' : 'The file was changed on its way.')
  return { upTo: came.upTo, done: came.done }
}

async function wholeOf(sql: Pick<Sql, 'query'>, hash: string, unit: string): Promise<Buffer> {
  const pieces = await sql.query<{ start: number; data: Uint8Array }>('SELECT start, data FROM stored_piece WHERE hash = $1 AND unit = $2 ORDER BY start', [hash, unit])
  const size = Math.max(...pieces.map(({ start, data }) => start + data.length))
  const whole = Buffer.alloc(size)
  pieces.forEach(({ start, data }) => whole.set(data, start))
  return whole
}

/** A picture or sound of the person's branch. @throws Refusal 404. */
export async function storedFile(access: Access, hash: string): Promise<{ mediaType: string; bytes: Buffer }> {
  const sql = await database()
  const [file] = await sql.query<{ unit: string; mediaType: string }>(
    `SELECT f.unit, f.media_type AS "mediaType" FROM stored_file f JOIN unit_latest u ON u.code = f.unit WHERE f.hash = $1 AND f.received_at IS NOT NULL AND u.path ~ $2::lquery
     AND ($3::uuid IS NULL OR EXISTS (SELECT 1 FROM case_entry e WHERE e.person = $3 AND e.answers::text LIKE '%' || $1 || '%')) LIMIT 1`, [hash, branchPattern(access.branch), access.ownOnly ? access.id : null])
  if (!file) throw notFound('file')
  return { mediaType: file.mediaType, bytes: await wholeOf(sql, hash, file.unit) }
}
