import '../support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { parseDay, printDay } from '#core/calendar/day'
import type { CaseQuery } from '#core/contract/cases'
import { must } from '#core/result'
import { MEASLES_CASES } from '../../demo/registers/measles'
import { lookThrough, lookThroughParts } from '../../server/cases/first-cases'
import { foldWaitingCases } from '../../server/cases/known'
import { listCases } from '../../server/cases/list'
import { answerCondition, Where } from '../../server/cases/where'
import { closeDatabase, type Database } from '../../server/database'
import { addRegister, entryMade, takeEntries } from '../support/cases'
import { makeInstallation, personOf } from '../support/installation'

const admin = personOf('administrator', null)
let sql: Database

const FIRST = must(parseDay('2026-08-01'))
const dayAt = (at: number) => printDay(FIRST + at)
/** Cases with one to four entries, on days all over three months; some go on long after they began. */
const cases = Array.from({ length: 80 }, (_, at) => ({
  id: uuid(),
  age: at % 9,
  days: Array.from({ length: 1 + (at % 4) }, (_, visit) => (at * 7 + visit * (at % 5 ? 3 : 31)) % 95),
}))

/** The days, by a plain look at every entry, that the queries are held against. */
let entries: { case: string; happened: string; received: string }[]

beforeAll(async () => {
  sql = await makeInstallation()
  await addRegister(sql, MEASLES_CASES)
  await takeEntries(
    sql,
    cases.flatMap(({ id, age, days }) =>
      days.map((day, visit) =>
        visit
          ? entryMade(id, { home_visited_on: dayAt(day) }, { form: 'home_visit' })
          : entryMade(id, { notified_on: dayAt(day), rash_on: dayAt(day), told_age: age }),
      ),
    ),
  )
  // As if they had come in one by one: half an hour before and after midnight in the time zone of the installation.
  await sql.query(
    `UPDATE case_entry SET received_at = (happened_on + 1)::timestamp AT TIME ZONE 'UTC' + (CASE WHEN seq % 2 = 0 THEN -1 ELSE 1 END) * interval '30 minutes'`,
  )
  await sql.query('UPDATE case_record SET to_fold = true')
  await foldWaitingCases()
  entries = await sql.query(
    `SELECT case_id AS case, happened_on AS happened, to_char(received_at AT TIME ZONE 'UTC', 'YYYY-MM-DD') AS received FROM case_entry`,
  )
})
afterAll(closeDatabase)

const idsOf = async (asked: CaseQuery) => {
  const { lines, counts } = await listCases(admin, asked, { most: 1000 })
  expect(counts).toEqual({ found: lines.length, all: cases.length })
  return lines.map(({ id }) => id).sort()
}
const model = (column: 'happened' | 'received', from?: string, to?: string) => [
  ...new Set(
    entries
      .filter(one => (!from || one[column] >= from) && (!to || one[column] <= to))
      .map(one => one.case)
      .sort(),
  ),
]

describe('cases with an entry between two days', () => {
  it.each([
    [20, 30],
    [0, 94],
    [45, 45],
    [60, undefined],
    [undefined, 10],
    [94, undefined],
    [undefined, -1],
    [30, 20],
  ])('are those of a plain look at all entries: %s to %s', async (first, last) => {
    const [from, to] = [first, last].map(at => (at === undefined ? undefined : dayAt(at)))
    expect(await idsOf({ happenedFrom: from, happenedTo: to })).toEqual(model('happened', from, to))
    expect(await idsOf({ receivedFrom: from, receivedTo: to })).toEqual(model('received', from, to))
  })

  it('are few enough to tell the ways apart', () => {
    const inside = model('happened', dayAt(20), dayAt(30))
    // Some of them went on afterwards, and some went on without an entry between the two.
    const later = new Set(model('happened', dayAt(31)))
    const before = new Set(model('happened', undefined, dayAt(19)))
    expect(inside.some(id => later.has(id))).toBe(true)
    expect([...before].some(id => later.has(id) && !inside.includes(id))).toBe(true)
  })
})

describe('a table that is looked through part by part', () => {
  it.each(['ASC', 'DESC'] as const)('finds the same cases, and the same first ones, %s', async direction => {
    const where = new Where()
    where.parts.push(answerCondition({ code: 'told_age', is: 'between', from: 2, to: 5 }, where))
    const sought = { where, place: (row: string) => `${row}.last_on`, direction, most: 7 }
    const whole = await lookThrough(sql, sought)
    const parts = await lookThroughParts(sql, sought, 1)
    expect(whole.found).toBe(cases.filter(({ age }) => age >= 2 && age <= 5).length)
    expect(whole.ids.length).toBe(7)
    expect(parts.found).toBe(whole.found)
    // Of each part the first seven, those of the whole among them.
    expect(parts.ids.length).toBeGreaterThan(7)
    expect(new Set(parts.ids).size).toBe(parts.ids.length)
    expect(parts.ids).toEqual(expect.arrayContaining(whole.ids))
  })

  it('has one part where it is empty or small', async () => {
    const where = new Where()
    where.parts.push('false')
    const sought = { where, place: (row: string) => `${row}.last_on`, direction: 'ASC', most: 7 } as const
    expect(await lookThroughParts(sql, sought)).toEqual({ found: 0, ids: [] })
  })
})
