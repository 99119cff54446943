import { existsSync, mkdtempSync, readdirSync, renameSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { openEmbedded } from './embedded'
import { MIGRATIONS } from './migrations'

let folder: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'lantern-'))
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))

const first = { number: 1, name: 'first', sql: 'CREATE TABLE thing (id int PRIMARY KEY, name text)' }
const second = { number: 2, name: 'second', sql: 'ALTER TABLE thing ADD COLUMN size int' }

describe('the database folder', () => {
  it('keeps what was written, and gives the lock back, when it is closed and opened again', async () => {
    const database = await openEmbedded(folder, [first])
    await database.query('INSERT INTO thing VALUES ($1, $2)', [1, 'lamp'])
    await database.close()
    const again = await openEmbedded(folder, [first, second])
    expect(again.migration).toBe(2)
    expect(await again.query('SELECT * FROM thing')).toEqual([{ id: 1, name: 'lamp', size: null }])
    await again.close()
  })

  it('is kept as it was before an update, and can be gone back to', async () => {
    const before = await openEmbedded(folder, [first])
    await before.query('INSERT INTO thing VALUES ($1, $2)', [1, 'lamp'])
    await before.close()
    await (await openEmbedded(folder, [first, second])).close()
    const kept = () => readdirSync(folder).filter(name => name.startsWith('postgres.before-migration'))
    expect(kept()).toEqual(['postgres.before-migration-2'])
    // Opened again, nothing is updated and nothing is kept anew.
    const third = { number: 3, name: 'third', sql: 'DROP TABLE thing' }
    await (await openEmbedded(folder, [first, second, third])).close()
    expect(kept()).toEqual(['postgres.before-migration-3'])
    rmSync(join(folder, 'postgres'), { recursive: true })
    renameSync(join(folder, 'postgres.before-migration-3'), join(folder, 'postgres'))
    const again = await openEmbedded(folder, [first, second])
    expect(again.migration).toBe(2)
    expect(await again.query('SELECT * FROM thing')).toEqual([{ id: 1, name: 'lamp', size: null }])
    expect(existsSync(join(folder, 'postgres', 'lantern-backup.json'))).toBe(true)
    await again.close()
  })

  it('from a newer version is refused, and says so', async () => {
    await (await openEmbedded(folder, [first, second])).close()
    await expect(openEmbedded(folder, [first])).rejects.toThrow(/newer version/)
    // The refusal leaves it as it was: the newer version still opens it.
    await (await openEmbedded(folder, [first, second])).close()
  })

  it('with an edited migration is refused', async () => {
    await (await openEmbedded(folder, [first])).close()
    await expect(openEmbedded(folder, [{ ...first, sql: `${first.sql} ` }])).rejects.toThrow(/never edited/)
  })
})

describe('migrations', () => {
  it('are numbered without a gap', () => {
    expect(MIGRATIONS.map(({ number }) => number)).toEqual(MIGRATIONS.map((_, at) => at + 1))
  })

  it('leave nothing behind when one fails', async () => {
    const broken = { number: 2, name: 'broken', sql: 'CREATE TABLE half (id int); SELECT nothing_there' }
    await expect(openEmbedded(folder, [first, broken])).rejects.toThrow()
    const database = await openEmbedded(folder, [first])
    expect(database.migration).toBe(1)
    expect(await database.query("SELECT to_regclass('half') AS half")).toEqual([{ half: null }])
    await database.close()
  })

  it('make the tables of the project', async () => {
    const database = await openEmbedded('memory:', MIGRATIONS)
    const tables = await database.query<{ name: string }>(
      "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = 'public'",
    )
    expect(tables.map(({ name }) => name)).toEqual(
      expect.arrayContaining([
        'unit_span',
        'edition',
        'round',
        'report',
        'cell_value',
        'cell_event',
        'discrepancy',
        'signature',
      ]),
    )
    await database.close()
  })
})

describe('transactions', () => {
  it('keep all or nothing', async () => {
    const database = await openEmbedded('memory:', [first])
    await expect(
      database.transaction(async sql => {
        await sql.query('INSERT INTO thing VALUES (1, $1)', ['one'])
        throw new Error('changed my mind')
      }),
    ).rejects.toThrow('changed my mind')
    expect(await database.query('SELECT * FROM thing')).toEqual([])
    await database.close()
  })
})

describe('a parameter', () => {
  it('that a server could not store is refused here too', async () => {
    const database = await openEmbedded('memory:', [
      { number: 1, name: 'first', sql: 'CREATE TABLE thing (said jsonb, ids int[])' },
    ])
    await expect(database.query('INSERT INTO thing (said) VALUES ($1)', [[{ a: 1 }]])).rejects.toThrow(
      'The parameter $1 is a list of objects',
    )
    await database.query('INSERT INTO thing VALUES ($1, $2::int[])', [{ all: [{ a: 1 }] }, [1, 2]])
    expect(await database.query('SELECT * FROM thing')).toEqual([{ said: { all: [{ a: 1 }] }, ids: [1, 2] }])
    await database.close()
  })
})

describe('a savepoint', () => {
  it('undoes its own part when it fails, and the rest of the transaction stands', async () => {
    const database = await openEmbedded('memory:', [first])
    await database.transaction(async sql => {
      await sql.query('INSERT INTO thing VALUES (1, $1)', ['kept'])
      await expect(
        sql.savepoint(async () => {
          await sql.query('INSERT INTO thing VALUES (2, $1)', ['undone'])
          throw new Error('refused')
        }),
      ).rejects.toThrow('refused')
      // An error of the engine itself ends a transaction, unless it happens in a savepoint.
      await expect(
        sql.savepoint(() => sql.query('INSERT INTO thing VALUES (1, $1)', ['twice'])),
      ).rejects.toThrow()
      await sql.savepoint(() => sql.query('INSERT INTO thing VALUES (3, $1)', ['kept too']))
    })
    expect(await database.query('SELECT id FROM thing ORDER BY id')).toEqual([{ id: 1 }, { id: 3 }])
    await database.close()
  })

  it('is needed to go on after a statement failed: without one nothing is committed, and the work hears why', async () => {
    const database = await openEmbedded('memory:', [first])
    await expect(
      database.transaction(async sql => {
        await sql.query('INSERT INTO thing VALUES (1, $1)', ['lost'])
        await sql.query('SELECT nothing_there').catch(() => undefined)
        return 'stored'
      }),
    ).rejects.toThrow('nothing_there')
    expect(await database.query('SELECT id FROM thing')).toEqual([])
    await database.close()
  })

  it('ends after what was asked at once with a statement that failed', async () => {
    const database = await openEmbedded('memory:', [first])
    const insert = (id: number) => `INSERT INTO thing VALUES (${id}, 'late')`
    await expect(
      database.transaction(sql =>
        Promise.all([sql.query('SELECT nothing_there'), ...[1, 2, 3].map(id => sql.query(insert(id)))]),
      ),
    ).rejects.toThrow('nothing_there')
    await database.query('SELECT 1')
    expect(await database.query('SELECT id FROM thing')).toEqual([])
    await database.close()
  })

  it('refuses what work still asks for after its transaction was taken back', async () => {
    const database = await openEmbedded('memory:', [first])
    let late: Promise<unknown> = Promise.resolve()
    await expect(
      database.transaction(sql => {
        const goesOn = async () => {
          await sql.query('INSERT INTO thing VALUES (1, $1)', ['taken back'])
          await new Promise(resolve => setTimeout(resolve, 50))
          await sql.query('INSERT INTO thing VALUES (2, $1)', ['too late'])
        }
        late = goesOn()
        late.catch(() => undefined)
        return Promise.all([late, Promise.reject(new Error('refused'))])
      }),
    ).rejects.toThrow('refused')
    await expect(late).rejects.toThrow('after the end of its transaction')
    expect(await database.query('SELECT id FROM thing')).toEqual([])
    await database.close()
  })

  it('lets the engine keep the statements that it has read', async () => {
    const database = await openEmbedded('memory:', [first])
    const kept = () => database.query('SELECT 1 FROM pg_prepared_statements')
    for (let turn = 0; turn < 2; turn++) await database.query('SELECT id FROM thing WHERE id = $1', [turn])
    await database.transaction(async sql => {
      await sql.savepoint(() => sql.query('INSERT INTO thing VALUES (1, $1)', ['kept']))
      await expect(sql.savepoint(() => Promise.reject(new Error('refused')))).rejects.toThrow('refused')
    })
    expect(await kept()).toHaveLength(1)
    await database.close()
  })
})

describe('tidying', () => {
  it('works beside the checkpoints, keeps everything, and gives the planner its statistics', async () => {
    const database = await openEmbedded(folder, [first])
    const never = async () =>
      (await database.query(`SELECT 1 FROM pg_class WHERE relname = 'thing' AND reltuples < 0`)).length
    await database.query('INSERT INTO thing SELECT n, $1 FROM generate_series(1, 2000) AS n', ['kept'])
    await database.query('DELETE FROM thing WHERE id % 2 = 0')
    expect(await never()).toBe(1)
    await Promise.all([database.query('VACUUM (ANALYZE)'), database.checkpoint()])
    expect(await never()).toBe(0)
    await database.close()
    const again = await openEmbedded(folder, [first])
    expect(await again.query('SELECT count(*) AS count FROM thing')).toEqual([{ count: 1000 }])
    await again.close()
  })
})
