import { promisify } from 'node:util'
import { gunzip, gzip } from 'node:zlib'
import type { Sql } from '../database'
import { Refusal } from '../refusal'

/** A file is stored in parts of this size, in bytes. */
const PART = 512 * 1024
/** A larger file is not made: fewer columns, or a shorter time, say it better. */
const MOST_BYTES = 1_000_000_000
/** What packing makes hardly smaller, a workbook or a zip, is stored as it is. */
const WORTH_PACKING = 0.9

const zip = promisify(gzip)
const unzip = promisify(gunzip)

/** Somebody stopped the file, or another turn took it over. */
export class NoLongerWanted extends Error {}

/** Stores the parts of a file, while it is wanted. */
export class PartStore {
  rows = 0
  bytes = 0
  private number = 0
  private waiting: Buffer[] = []
  private waitingBytes = 0

  constructor(
    private readonly sql: Pick<Sql, 'query'>,
    private readonly file: { id: string; attempt: number },
  ) {}

  async add(chunk: Buffer): Promise<void> {
    this.waiting.push(chunk)
    this.waitingBytes += chunk.length
    if (this.waitingBytes >= PART) await this.flush()
  }

  /** @throws NoLongerWanted, Refusal `extract-large` */
  async flush(): Promise<void> {
    if (!this.waitingBytes) return
    const bytes = Buffer.concat(this.waiting)
    this.bytes += bytes.length
    this.waiting = []
    this.waitingBytes = 0
    if (this.bytes > MOST_BYTES)
      throw new Refusal(
        422,
        'extract-large',
        'This file is larger than 1 GB. Take fewer columns, or a shorter time.',
      )
    // The quickest packing: storing what it spares takes longer than packing.
    const small = await zip(bytes, { level: 1 })
    const packed = small.length < bytes.length * WORTH_PACKING
    const kept = await this.sql.query(
      `WITH file AS (UPDATE extract_file SET rows = $4, bytes = $5 WHERE id = $1 AND attempt = $2 AND state = 'waiting' RETURNING id)
       INSERT INTO extract_part (file, number, bytes, packed) SELECT id, $3, decode($6::text, 'base64'), $7 FROM file RETURNING number`,
      [
        ...[this.file.id, this.file.attempt, this.number++, this.rows, this.bytes],
        // As a text: the embedded engine writes bytes one by one, which takes ten times as long as the rows.
        (packed ? small : bytes).toString('base64'),
        packed,
      ],
    )
    if (!kept.length) throw new NoLongerWanted()
  }
}

/** The bytes of a file, part by part. */
export async function* partsOf(sql: Pick<Sql, 'query'>, id: string): AsyncGenerator<Buffer> {
  for (let number = 0; ; number++) {
    // As a text: the embedded engine reads bytes one by one.
    const [part] = await sql.query<{ text: string; packed: boolean }>(
      `SELECT encode(bytes, 'base64') AS text, packed FROM extract_part WHERE file = $1 AND number = $2`,
      [id, number],
    )
    if (!part) return
    const bytes = Buffer.from(part.text, 'base64')
    yield part.packed ? await unzip(bytes) : bytes
  }
}
