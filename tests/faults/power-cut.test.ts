import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { PGlite } from '@electric-sql/pglite'
import { amcheck } from '@electric-sql/pglite/contrib/amcheck'
import { ltree } from '@electric-sql/pglite/contrib/ltree'
import { pg_trgm } from '@electric-sql/pglite/contrib/pg_trgm'
import { unsafeUniformIntDistribution, xoroshiro128plus } from 'pure-rand'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import type { EmbeddedDatabase } from '../../server/database/database'
import { ShadowDisk } from '../support/shadow-disk'

const CUTS = 50
const WRITERS = 6
const generator = xoroshiro128plus(20261109)
const random = () => unsafeUniformIntDistribution(0, 2 ** 31 - 1, generator) / 2 ** 31

const TABLES = {
  number: 1,
  name: 'tables',
  sql: `
  CREATE TABLE change (id int PRIMARY KEY, writer int NOT NULL, text text NOT NULL);
  CREATE INDEX change_writer ON change (writer, id);
  CREATE TABLE counter (writer int PRIMARY KEY, count int NOT NULL);
  INSERT INTO counter SELECT writer, 0 FROM generate_series(0, ${WRITERS - 1}) AS writer`,
}

let folder: string
let disk: ShadowDisk
let database: EmbeddedDatabase

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'lantern-power-'))
  const first = await import('../../server/database/embedded')
  await (await first.openEmbedded(join(folder, 'real'), [TABLES])).close()
  disk = new ShadowDisk(join(folder, 'real', 'postgres'))
  // Loaded anew, so that it calls the functions that the disk listens to.
  vi.resetModules()
})
afterAll(() => {
  disk.close()
  rmSync(folder, { recursive: true, force: true })
})

/**
 * The changes that the database of a folder holds. @param deeply checks tables and indexes by PostgreSQL's
 * own amcheck.
 */
async function readChecked(data: string, deeply: boolean): Promise<number[]> {
  const { openEmbedded } = await import('../../server/database/embedded')
  const restarted = await openEmbedded(data, [TABLES])
  const ids = await restarted.query<{ id: number }>('SELECT id FROM change ORDER BY id')
  const counts = await restarted.query<{ writer: number; count: number; rows: number }>(
    `SELECT c.writer, c.count, (SELECT count(*) FROM change WHERE writer = c.writer)::int AS rows FROM counter c ORDER BY writer`,
  )
  // Each transaction wrote a row and counted it: half of one would show here.
  for (const { count, rows } of counts) expect(rows).toBe(count)
  await restarted.close()
  if (!deeply) return ids.map(({ id }) => id)
  const engine = await PGlite.create(`file://${data}/postgres`, { extensions: { amcheck, ltree, pg_trgm } })
  await engine.exec(`CREATE EXTENSION IF NOT EXISTS amcheck;
    SELECT bt_index_check(c.oid, true) FROM pg_class c JOIN pg_am a ON a.oid = c.relam WHERE c.relkind = 'i' AND a.amname = 'btree';
    SELECT verify_heapam(oid) FROM pg_class WHERE relkind = 'r' AND relname IN ('change', 'counter')`)
  await engine.close()
  return ids.map(({ id }) => id)
}

describe('nothing lost, 2a: a power cut', () => {
  it(`leaves everything that was confirmed, once, and a sound database: ${CUTS} cuts under load`, async () => {
    const { openEmbedded } = await import('../../server/database/embedded')
    database = await openEmbedded(join(folder, 'real'), [TABLES])
    const confirmed = new Set<number>()
    let made = 0
    let running = true
    /** Writers wait here while a cut is looked at. */
    let gate = Promise.resolve()
    const write = async (writer: number) => {
      while (running) {
        await gate
        const id = ++made
        await database.transaction(async sql => {
          await sql.query('INSERT INTO change VALUES ($1, $2, $3)', [id, writer, 'x'.repeat(1 + (id % 700))])
          await sql.query('UPDATE counter SET count = count + 1 WHERE writer = $1', [writer])
        })
        confirmed.add(id)
        if (id % 97 === 0) await database.checkpoint()
      }
    }
    const writers = Array.from({ length: WRITERS }, (_, writer) => write(writer))
    for (let cut = 0; cut < CUTS; cut++) {
      await new Promise(resolve => {
        setTimeout(resolve, 20 + random() * 40)
      })
      // Nothing of what was not synced, all of it, or any part.
      const share = [0, 1, random()][cut % 3]!
      disk.cutPower(join(folder, 'cut', 'postgres'), random, share)
      const before = [...confirmed]
      let open = () => {}
      gate = new Promise<void>(resolve => {
        open = resolve
      })
      const ids = await readChecked(join(folder, 'cut'), cut % 5 === 0)
      open()
      const there = new Set(ids)
      expect(
        before.filter(id => !there.has(id)),
        `cut ${cut}: confirmed and gone`,
      ).toEqual([])
      expect(ids.length, `cut ${cut}: twice`).toBe(there.size)
    }
    running = false
    await Promise.all(writers)
    await database.close()
    // How many is a matter of the machine; that there were some before each cut is what the test needs.
    expect(confirmed.size).toBeGreaterThan(CUTS * 2)
  }, 600_000)
})
