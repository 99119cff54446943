import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { PGlite } from '@electric-sql/pglite'
import { openEmbedded } from '../../server/database/embedded'
import { measurement, type Measurement } from '../measure'

const COMMITS = 300
const TABLE = 'CREATE TABLE thing (id int PRIMARY KEY, text text NOT NULL)'
const INSERT = 'INSERT INTO thing VALUES ($1, $2)'
const TEXT = 'x'.repeat(500)

type Insert = (id: number) => Promise<unknown>

async function milliseconds(work: () => Promise<unknown>): Promise<number> {
  const begun = performance.now()
  await work()
  return performance.now() - begun
}

async function bothWays(insert: Insert): Promise<{ alone: number; atOnce: number }> {
  const alone = await milliseconds(async () => {
    for (let id = 0; id < COMMITS; id++) await insert(id)
  })
  const ids = Array.from({ length: COMMITS }, (_, at) => COMMITS + at)
  return {
    alone: alone / COMMITS,
    atOnce: (await milliseconds(() => Promise.all(ids.map(insert)))) / COMMITS,
  }
}

/**
 * What it costs that a commit is on the disk before it is answered: against the same engine as it comes,
 * without syncs.
 */
export async function durability(): Promise<Measurement[]> {
  const folder = mkdtempSync(join(tmpdir(), 'lantern-durable-'))
  try {
    const durable = await openEmbedded(join(folder, 'durable'), [{ number: 1, name: 'thing', sql: TABLE }])
    const ours = await bothWays(id => durable.query(INSERT, [id, TEXT]))
    const checkpoint = await milliseconds(() => durable.checkpoint())
    await durable.close()
    const plain = await PGlite.create(`file://${folder}/plain`)
    await plain.exec(TABLE)
    const other = await bothWays(id => plain.query(INSERT, [id, TEXT]))
    await plain.close()
    console.log(`a checkpoint after ${2 * COMMITS} commits: ${checkpoint.toFixed(0)} ms`)
    return [
      measurement(
        'a commit on the disk, one after the other',
        ours.alone,
        other.alone,
        'without syncs',
        'ms',
        20,
      ),
      measurement(
        `a commit on the disk, ${COMMITS} at once`,
        ours.atOnce,
        other.atOnce,
        'without syncs',
        'ms',
        5,
      ),
    ]
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}
