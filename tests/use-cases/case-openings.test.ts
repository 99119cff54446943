import '../support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { may } from '#core/contract/permission'
import { MEASLES_CASES } from '../../demo/registers/measles'
import { caseFile } from '../../server/cases/file'
import { actOnCase } from '../../server/cases/life'
import { caseOpenings } from '../../server/cases/openings'
import { mergePair } from '../../server/cases/pair-acts'
import { listPairs } from '../../server/cases/pair-list'
import { closeDatabase, type Database } from '../../server/database'
import { tidy } from '../../server/jobs/tidy'
import { addRegister, entryMade, takeEntries } from '../support/cases'
import { makeInstallation, personOf } from '../support/installation'

const admin = personOf('administrator', null)
const north = personOf('officer', 'north')
const south = personOf('officer', 'south')
const reader = personOf('reader', 'north')
const [first, twin] = [uuid(), uuid()]
let sql: Database

const child = (of: string, number: string) =>
  entryMade(of, {
    case_number: number,
    full_name: 'Sorrel Hyde',
    sex: 'f',
    told_age: 4,
    zone: 'quay',
    rash_on: '2026-10-20',
  })
const openingsOf = async (id: string) =>
  (await caseOpenings(admin, id, {})).openings.map(({ by, times }) => [by, times])

beforeAll(async () => {
  sql = await makeInstallation()
  await addRegister(sql, MEASLES_CASES)
  await takeEntries(sql, [child(first, 'ELM-26-0001'), child(twin, 'ELM-26-0002')])
})
afterAll(closeDatabase)

describe('who opened a case at the office', () => {
  it('is noted, once for a person and a day, with how many times', async () => {
    expect(await openingsOf(first)).toEqual([])
    await caseFile(north, first)
    await caseFile(north, first)
    await caseFile(reader, first)
    expect(await openingsOf(first)).toEqual(
      expect.arrayContaining([
        [north.displayName, 2],
        [reader.displayName, 1],
      ]),
    )
    expect(await openingsOf(twin)).toEqual([])
  })

  it('is not noted of one who was refused, who does not see the list either', async () => {
    await expect(caseFile(south, first)).rejects.toMatchObject({ status: 403 })
    await expect(caseOpenings(south, first, {})).rejects.toMatchObject({ status: 403 })
    await expect(caseOpenings(admin, uuid(), {})).rejects.toMatchObject({ status: 404 })
    expect((await openingsOf(first)).length).toBe(2)
  })

  it('stays with both cases when they are merged', async () => {
    await caseFile(reader, twin)
    const [pair] = (await listPairs(admin, { case: first })).lines
    await mergePair(north, pair!.id, first)
    // The case that it is part of is opened instead.
    await caseFile(north, twin)
    expect(await openingsOf(first)).toEqual(
      expect.arrayContaining([
        [north.displayName, 3],
        [reader.displayName, 1],
        [reader.displayName, 1],
      ]),
    )
  })

  it('comes in pages', async () => {
    await sql.query(
      `INSERT INTO case_opening (case_id, person, day, first_at, last_at)
       SELECT $1, $2, DATE '2026-01-01' + n, at, at
       FROM generate_series(1, 60) n CROSS JOIN LATERAL (SELECT TIMESTAMPTZ '2026-01-01' + make_interval(days => n) AS at) d`,
      [first, north.id],
    )
    const page = await caseOpenings(admin, first, {})
    expect([page.openings.length, page.more]).toEqual([50, true])
    const next = await caseOpenings(admin, first, { before: page.openings.at(-1)!.lastAt })
    expect(next.more).toBe(false)
    expect(page.openings.length + next.openings.length).toBe(63)
  })

  it('is forgotten after two years', async () => {
    await sql.query(`UPDATE case_opening SET last_at = last_at - interval '3 years' WHERE day < '2026-02-01'`)
    expect((await tidy()).numbers.removed).toBe(30)
  })

  it('is for officers and administrators', () => {
    expect(
      (['administrator', 'officer', 'clerk', 'reader'] as const).map(role =>
        may({ role, without: [] }, 'seeOpenings'),
      ),
    ).toEqual([true, true, false, false])
  })

  it('says who may open it: those of its branch and above, and of a facility that had it before', async () => {
    const maySee = async () =>
      (await caseOpenings(admin, first, {})).maySee!.map(
        ({ role, branch, people }) => `${people} ${role} ${branch?.code ?? 'all'}`,
      )
    const [before, withOak] = [await maySee(), async () => (await maySee()).some(one => one.endsWith(' oak'))]
    expect(before.some(one => one.endsWith(' south'))).toBe(false)
    expect(await withOak()).toBe(false)
    await sql.query(
      `INSERT INTO person (id, user_name, user_key, display_name, role, branch, password_hash)
       VALUES (gen_random_uuid(), 'clerk.oak', 'clerk.oak', 'Clerk of Oak', 'clerk', 'oak', '')`,
    )
    expect(await withOak()).toBe(false)
    await actOnCase(admin, first, { act: 'move', to: 'oak', since: '2026-10-25', text: 'Referred' })
    expect(await withOak()).toBe(true)
    expect((await maySee()).filter(one => one !== '1 clerk oak')).toEqual(before)
  })
})
