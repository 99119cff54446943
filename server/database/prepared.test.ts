import { PGlite } from '@electric-sql/pglite'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { ENGINE_OPTIONS } from './engine'
import { preparedStatements } from './prepared'

let pg: PGlite
let ask: ReturnType<typeof preparedStatements>
beforeAll(async () => {
  pg = await PGlite.create('memory://', ENGINE_OPTIONS)
})
afterAll(() => pg.close())
beforeEach(async () => {
  ask = preparedStatements(pg)
  await ask.forget()
  await pg.exec('DROP TABLE IF EXISTS thing; CREATE TABLE thing (id int PRIMARY KEY, name text)')
})

const keptNames = async () =>
  (await pg.query<{ name: string }>('SELECT name FROM pg_prepared_statements')).rows.map(({ name }) => name)

const EVERYTHING = `SELECT $1::int AS number, $2::float8 AS decimal, $3::boolean AS truth, $4::text AS text, $5::jsonb AS document,
  $6::text[] AS texts, $7::uuid AS id, $8::timestamptz AS at, $9::date AS day, $10::bigint AS large, $11::bytea AS bytes, NULL AS nothing`
const VALUES = [
  ...[7, -0.1, false, 'läntern “1”', { a: [1, null, { b: 'c' }] }, ['x', 'y,z', '"q"', '']],
  ...['0198c1f2-0000-7000-8000-000000000001', '2026-11-05T12:00:00Z', '2026-02-28'],
  ...[2 ** 40, new Uint8Array([0, 1, 255])],
]

describe('a statement that comes again', () => {
  it('answers the same as at first, whatever the types', async () => {
    const first = await ask.query(EVERYTHING, VALUES)
    expect(first).toEqual((await pg.query(EVERYTHING, VALUES)).rows)
    expect(await keptNames()).toEqual([])
    for (let turn = 0; turn < 3; turn++) expect(await ask.query(EVERYTHING, VALUES)).toEqual(first)
    expect(await keptNames()).toHaveLength(1)
    const nothing = VALUES.map(() => null)
    expect(await ask.query(EVERYTHING, nothing)).toEqual((await pg.query(EVERYTHING, nothing)).rows)
  })

  it('writes, and tells what it returns', async () => {
    const insert = 'INSERT INTO thing VALUES ($1, $2)'
    for (let id = 1; id <= 4; id++) expect(await ask.query(insert, [id, `thing ${id}`])).toEqual([])
    const change = `UPDATE thing SET name = 'lamp' WHERE id <= $1 RETURNING id`
    for (const most of [1, 2, 3])
      expect(await ask.query(change, [most])).toEqual(Array.from({ length: most }, () => expect.anything()))
    expect(await ask.query('SELECT count(*) AS all FROM thing', [])).toEqual([{ all: 4 }])
  })

  it('that fails leaves nothing behind it: the next is answered', async () => {
    const insert = 'INSERT INTO thing VALUES ($1, $2)'
    await ask.query(insert, [1, 'lamp'])
    await ask.query(insert, [2, 'lamp'])
    await expect(ask.query(insert, [2, 'lamp'])).rejects.toMatchObject({ code: '23505' })
    await expect(ask.query(insert, ['two', 'lamp'])).rejects.toMatchObject({ code: '22P02' })
    await ask.query(insert, [3, 'lamp'])
    expect(await ask.query('SELECT id FROM thing ORDER BY id', [])).toEqual([{ id: 1 }, { id: 2 }, { id: 3 }])
  })

  it('may come first in a transaction that fails, and is asked again after it', async () => {
    const select = 'SELECT name FROM thing WHERE id = $1'
    await ask.query(select, [1])
    await pg.exec('BEGIN')
    await expect(ask.query('SELECT 1 / $1::int', [0])).rejects.toMatchObject({ code: '22012' })
    await expect(ask.query(select, [1])).rejects.toMatchObject({ code: '25P02' })
    await pg.exec('ROLLBACK')
    expect(await ask.query(select, [1])).toEqual([])
    expect(await ask.query(select, [1])).toEqual([])
  })

  it('answers with the new columns once a table has others', async () => {
    const all = 'SELECT * FROM thing'
    await ask.query('INSERT INTO thing VALUES (1, $1)', ['lamp'])
    for (let turn = 0; turn < 3; turn++) expect(await ask.query(all, [])).toEqual([{ id: 1, name: 'lamp' }])
    await ask.query('ALTER TABLE thing ADD COLUMN size int', [])
    for (let turn = 0; turn < 3; turn++)
      expect(await ask.query(all, [])).toEqual([{ id: 1, name: 'lamp', size: null }])
  })

  it('is planned for the values that it asks about, each time', async () => {
    const plans = 'SELECT generic_plans, custom_plans FROM pg_prepared_statements'
    const insert = 'INSERT INTO thing VALUES ($1, $2) RETURNING id'
    for (let turn = 0; turn < 12; turn++) {
      expect(await ask.query(insert, [turn, 'lamp'])).toEqual([{ id: turn }])
      expect((await pg.query(plans)).rows).toEqual(
        turn ? [{ generic_plans: 0, custom_plans: ((turn - 1) % 5) + 1 }] : [],
      )
    }
  })

  it('may be due to be read again in a transaction that fails, and is answered after it', async () => {
    const select = 'SELECT $1::int AS number'
    for (let turn = 0; turn < 6; turn++) await ask.query(select, [turn])
    await pg.exec('BEGIN')
    await expect(ask.query('SELECT 1 / $1::int', [0])).rejects.toMatchObject({ code: '22012' })
    await expect(ask.query(select, [6])).rejects.toMatchObject({ code: '25P02' })
    await pg.exec('ROLLBACK')
    for (let turn = 7; turn < 14; turn++) expect(await ask.query(select, [turn])).toEqual([{ number: turn }])
  })

  it('makes room when many others came since', async () => {
    const texts = Array.from({ length: 450 }, (_, at) => `SELECT ${at} AS at`)
    for (const text of [...texts, ...texts]) await ask.query(text, [])
    expect((await keptNames()).length).toBe(400)
    for (const at of [0, 449]) expect(await ask.query(texts[at]!, [])).toEqual([{ at }])
  })

  it('waits for its turn beside others', async () => {
    const asked = Array.from({ length: 60 }, (_, at) => ask.query(`SELECT $1::int + ${at % 3} AS sum`, [at]))
    expect(await Promise.all(asked)).toEqual(asked.map((_, at) => [{ sum: at + (at % 3) }]))
  })
})
