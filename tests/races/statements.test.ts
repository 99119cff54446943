import { setTimeout } from 'node:timers/promises'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Database } from '../../server/database'
import { DatabaseAway } from '../../server/database/server-errors'
import { asRequest } from '../../server/give-way'
import { openOwnDatabase, type OwnDatabase } from '../support/own-database'

const TABLES = [{ number: 1, name: 'first', sql: 'CREATE TABLE thing (id int PRIMARY KEY)' }]
const MANY = Array.from({ length: 20 }, (_, at) => at)

let own: OwnDatabase
let database: Database
beforeAll(async () => {
  own = await openOwnDatabase(TABLES)
  database = own.database
})
afterAll(() => own?.stop())

const connection = async () =>
  (await database.query<{ pid: number }>('SELECT pg_backend_pid() AS pid FROM pg_sleep(0.02)'))[0]!.pid
const connectionsOf = async (work: () => Promise<number[]>) => new Set(await work()).size
const things = async () => (await database.query<{ id: number }>('SELECT id FROM thing')).map(({ id }) => id)

describe('statements that are asked at once', () => {
  it('share two connections within a request, and take one each elsewhere', async () => {
    const ask = () => Promise.all(MANY.map(connection))
    expect(await connectionsOf(() => asRequest(ask))).toBe(2)
    expect(await connectionsOf(ask)).toBe(10)
    const two = () => Promise.all([asRequest(ask), asRequest(ask)]).then(found => found.flat())
    expect(await connectionsOf(two)).toBe(4)
  })

  it('are answered, though one of them fails', async () => {
    const answers = await asRequest(() =>
      Promise.allSettled(
        MANY.map(at => database.query<{ found: number }>('SELECT 6 / $1::int AS found', [at])),
      ),
    )
    expect(answers[0]!.status).toBe('rejected')
    expect(answers.slice(1).every(({ status }) => status === 'fulfilled')).toBe(true)
    expect(answers[3]).toMatchObject({ value: [{ found: 2 }] })
  })

  it('all say that the connection was lost, and the next request gets another', async () => {
    const lost = asRequest(() =>
      Promise.allSettled(MANY.map(() => database.query('SELECT pg_sleep(5), $1::text', ['lost']))),
    )
    await setTimeout(200)
    await database.query(
      `SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE query LIKE 'SELECT pg_sleep(5)%' AND pid <> pg_backend_pid()`,
    )
    for (const one of await lost) expect(one).toMatchObject({ reason: expect.any(DatabaseAway) as unknown })
    expect(await asRequest(connection)).toBeGreaterThan(0)
  })
})

describe('a transaction whose parts are asked at once', () => {
  it('does them in the order in which they were asked', async () => {
    await database.transaction(async tx => {
      const [before, , after] = await Promise.all([
        tx.query('SELECT id FROM thing'),
        tx.query('INSERT INTO thing VALUES (1)'),
        tx.query('SELECT id FROM thing'),
      ])
      expect([before, after]).toEqual([[], [{ id: 1 }]])
    })
    expect(await things()).toEqual([1])
  })

  it('keeps nothing where its work took no notice of a statement that failed, and says so', async () => {
    await expect(
      database.transaction(async tx => {
        await tx.query('INSERT INTO thing VALUES (2)')
        await tx.query('INSERT INTO thing VALUES (1)').catch(() => undefined)
      }),
    ).rejects.toThrow(/thing_pkey/)
    expect(await things()).toEqual([1])
  })

  it('says why the first of them failed, whichever is heard first', async () => {
    const wrapped = async (work: Promise<unknown>) => {
      await work
    }
    for (let turn = 0; turn < 20; turn++)
      await expect(
        database.transaction(tx =>
          Promise.all([wrapped(wrapped(tx.query('INSERT INTO thing VALUES (1)'))), tx.query('SELECT 1')]),
        ),
      ).rejects.toThrow(/thing_pkey/)
  })

  it('leaves nothing when one part fails and another would go on after the end', async () => {
    let late: Promise<unknown> = Promise.resolve()
    await expect(
      database.transaction(tx => {
        const goesOn = async () => {
          await tx.query('INSERT INTO thing VALUES (2)')
          await setTimeout(100)
          await tx.query('INSERT INTO thing VALUES (3)')
        }
        late = goesOn()
        late.catch(() => undefined)
        return Promise.all([late, Promise.reject(new Error('refused'))])
      }),
    ).rejects.toThrow('refused')
    await expect(late).rejects.toThrow('after the end of its transaction')
    expect(await things()).toEqual([1])
  })

  it('keeps what stands beside a part that was taken back', async () => {
    await database.transaction(async tx => {
      await tx.savepoint(() => tx.query('INSERT INTO thing VALUES (4)'))
      await expect(tx.savepoint(() => tx.query('INSERT INTO thing VALUES (1)'))).rejects.toThrow(/thing_pkey/)
      await expect(
        tx.savepoint(async () => {
          await tx.query('INSERT INTO thing VALUES (5)')
          throw new Error('refused')
        }),
      ).rejects.toThrow('refused')
      await tx.savepoint(() => tx.query('INSERT INTO thing VALUES (6)'))
    })
    expect((await things()).sort()).toEqual([1, 4, 6])
  })
})
