import '../support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest'
import { MEASLES_CASES } from '../../demo/registers/measles'
import { foldWaitingCases } from '../../server/cases/known'
import { actOnCase } from '../../server/cases/life'
import { isJudgedByDay, judgeByDay } from '../../server/cases/new-day'
import { closeDatabase, type Database } from '../../server/database'
import { listCaseDoubts } from '../../server/discrepancies/about-cases'
import { verify } from '../../server/verification/verify'
import { addRegister, entryMade, takeEntries } from '../support/cases'
import { makeInstallation, personOf } from '../support/installation'

const admin = personOf('administrator', null)
const words = { en: 'It is classified within two weeks', fr: 'Il est classé en deux semaines' }
let sql: Database

beforeAll(async () => {
  sql = await makeInstallation()
})
afterEach(() => {
  vi.useRealTimers()
})
afterAll(closeDatabase)

const sick = (name: string) =>
  entryMade(uuid(), { full_name: name, sex: 'f', rash_on: '2026-10-30', notified_on: '2026-10-31' })
const doubted = async () => (await listCaseDoubts(admin, {})).lines.map(line => line.case.id)

describe('a rule that looks at the date', () => {
  const [waiting, closed, classified] = [sick('Ila Marsh'), sick('Orsel Brannoch'), sick('Wenna Drift')]

  it('is asked for by no register that has none', async () => {
    await addRegister(sql, MEASLES_CASES)
    expect(await isJudgedByDay()).toBe(false)
  })

  it('finds nothing while its days have not gone by', async () => {
    const rule = {
      ...{ code: 'classified', name: words, strength: 'note' as const, blanks: 'notJudged' as const },
      ...{ forClerk: words, forOfficer: words },
      expression: 'filled(classification) or days_between(rash_on, today()) <= 14',
    }
    await addRegister(sql, { ...MEASLES_CASES, rules: [rule] }, 2)
    await takeEntries(sql, [
      waiting,
      closed,
      classified,
      entryMade(
        classified.case,
        { specimen_number: 'S1', taken_on: '2026-11-01', result: 'negative', classification: 'discarded' },
        { form: 'specimen' },
      ),
    ])
    await actOnCase(admin, closed.case, { act: 'close', on: '2026-11-04', outcome: 'left' })
    expect(await isJudgedByDay()).toBe(true)
    expect(await doubted()).toEqual([])
  })

  it('finds the open case once they have, without an entry, and nothing twice', async () => {
    vi.useFakeTimers({ toFake: ['Date'], now: Date.now() + 15 * 86_400_000 })
    for (let nights = 0; nights < 2; nights++) {
      expect(await judgeByDay()).toBe(2)
      expect(await foldWaitingCases()).toBe(2)
      expect(await doubted()).toEqual([waiting.case])
    }
    expect(await verify()).toEqual([])
  })
})
