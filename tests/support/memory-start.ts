import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { PGlite } from '@electric-sql/pglite'
import { dependencies } from '../../package.json'
import { ROOT } from '../../scripts/setup.mjs'
import { doInTransaction, type Sql } from '../../server/database/database'
import { ENGINE_OPTIONS } from '../../server/database/engine'
import { migrate } from '../../server/database/migrate'
import { MIGRATIONS } from '../../server/database/migrations'

/** An empty database with its tables, as one file. */
async function dumpOfTables(): Promise<Uint8Array> {
  const pg = await PGlite.create('memory://', ENGINE_OPTIONS)
  const statements = {
    query: async <Row extends object>(text: string, params: readonly unknown[] = []) =>
      (await pg.query<Row>(text, params as unknown[])).rows,
    script: async (text: string) => {
      await pg.exec(text)
    },
  }
  await migrate(MIGRATIONS, async <T>(work: (tx: Sql) => Promise<T>) => {
    await pg.exec('BEGIN')
    const done = await doInTransaction(statements, work)
    await pg.exec('COMMIT')
    return done
  })
  const dump = await pg.dumpDataDir('none')
  await pg.close()
  return new Uint8Array(await dump.arrayBuffer())
}

/**
 * Before the unit tests: makes the dump that their databases begin from, once for the migrations and the engine
 * that there are.
 */
export default async function makeMemoryStart(): Promise<void> {
  const made = createHash('sha256').update(dependencies['@electric-sql/pglite'] + JSON.stringify(MIGRATIONS))
  const folder = join(ROOT, '.data', 'test-memory')
  const file = join(folder, `${made.digest('hex').slice(0, 16)}.tar`)
  process.env.LANTERN_TEST_MEMORY = file
  if (existsSync(file)) return
  mkdirSync(folder, { recursive: true })
  const unfinished = `${file}.${process.pid}`
  writeFileSync(unfinished, await dumpOfTables())
  renameSync(unfinished, file)
}
