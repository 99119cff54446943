import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { signedInAtBoth, startTwo, type TwoServers } from '../support/two-servers'
import type { Client } from '../support/client'

/** The list of changes that programs follow, while other transactions take their time. */
let two: TwoServers
let other: pg.Client
let officers: Client[]

beforeAll(async () => {
  two = await startTwo()
  officers = await signedInAtBoth(two, 'officer.ashmere', 2)
  other = new pg.Client({ connectionString: two.data })
  await other.connect()
})
afterAll(async () => {
  await other?.end()
  await two?.stop()
})

interface Feed {
  changes: { unit: string }[]
  next: string
}
const feed = async (which: number, after?: string) =>
  (await officers[which]!.get<Feed>(`/api/changes${after === undefined ? '' : `?after=${after}`}`)).body
const note = (unit: string) =>
  other.query(
    `INSERT INTO changed_thing (at, kind, of, key, unit) VALUES (now(), 'report', 'weekly_diseases', '2026-W45', $1)`,
    [unit],
  )

describe('the list of changes', () => {
  it('misses nothing of a transaction that began before a read and is committed after it', async () => {
    const { next } = await feed(0)
    await other.query('BEGIN')
    await note('tern_row')
    // Committed meanwhile, with a later number, and read.
    const [committed] = await Promise.all([feed(1, next), feed(0, next)])
    expect(committed.changes).toEqual([])
    await other.query('COMMIT')
    const after = await feed(0, committed.next)
    expect(after.changes.map(({ unit }) => unit)).toEqual(['tern_row'])
  })

  it('gives each change one place, when both processes read at once', async () => {
    const { next } = await feed(0)
    for (const unit of ['tern_row', 'ashmere', 'tern_row']) await note(unit)
    const answers = await Promise.all(Array.from({ length: 8 }, (_, at) => feed(at % 2, next)))
    for (const { changes } of answers)
      expect(changes.map(({ unit }) => unit)).toEqual(['ashmere', 'tern_row'])
    expect(new Set(answers.map(one => one.next)).size).toBe(1)
  })
})
