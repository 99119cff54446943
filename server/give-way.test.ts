import { setTimeout } from 'node:timers/promises'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { openAt, type Database } from './database'
import { asJob, asRequest, giveWay } from './give-way'

/** Does something in a job while a request takes as long as is said. @returns what came in which order */
async function order(requestMs: number, work: () => Promise<unknown>): Promise<string[]> {
  const came: string[] = []
  const request = asRequest(async () => {
    await setTimeout(requestMs)
    came.push('request')
  })
  await asJob(work)
  came.push('job')
  await request
  return came
}

describe('a job', () => {
  let sql: Database
  beforeAll(async () => {
    sql = await openAt('memory:')
  })
  afterAll(() => sql.close())

  it('waits while a request waits for its answer', async () => {
    expect(await order(60, giveWay)).toEqual(['request', 'job'])
  })

  it('goes on when requests never end', async () => {
    expect(await order(2_000, giveWay)).toEqual(['job', 'request'])
  })

  it('does not begin a statement, or a transaction, meanwhile', async () => {
    const one = 'SELECT 1 AS one'
    expect(await order(60, () => sql.query(one))).toEqual(['request', 'job'])
    expect(await order(60, () => sql.transaction(tx => tx.query(one)))).toEqual(['request', 'job'])
  })

  it('does not wait when the request has failed', async () => {
    await expect(asRequest(() => Promise.reject(new Error('refused')))).rejects.toThrow('refused')
    const before = performance.now()
    await asJob(giveWay)
    // A wait would be a quarter of a second.
    expect(performance.now() - before).toBeLessThan(200)
  })
})

describe('a request', () => {
  it('never waits for another one', async () => {
    const came: string[] = []
    const slow = asRequest(async () => {
      await setTimeout(100)
      came.push('slow')
    })
    await asRequest(async () => {
      await giveWay()
      came.push('quick')
    })
    await slow
    expect(came).toEqual(['quick', 'slow'])
  })
})
