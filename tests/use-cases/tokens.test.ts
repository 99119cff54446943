import '../support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { TokenNew } from '#core/contract/tokens'
import { accessOfToken } from '../../server/access/token'
import { closeDatabase, type Database } from '../../server/database'
import { tidy } from '../../server/jobs/tidy'
import { readFeed } from '../../server/machines/feed'
import { caseRecords, reportRecords } from '../../server/machines/records'
import { changePerson, listPeople } from '../../server/people/manage'
import { endToken, listTokens, makeToken } from '../../server/people/tokens'
import { sendBack } from '../../server/reporting/review'
import { MEASLES_CASES } from '../../demo/registers/measles'
import { addRegister, entryMade, takeEntries } from '../support/cases'
import { fillReport, sendReport } from '../support/facility'
import { makeInstallation, OCTOBER, personOf } from '../support/installation'

const admin = personOf('administrator', null)
const officer = personOf('officer', 'north')
const GIRL = uuid()
let sql: Database

const asked = (more: Partial<TokenNew> = {}): TokenNew => ({
  ...{ name: 'Stock system', branch: 'north', gives: ['extract'], lastDay: '2026-12-31' },
  ...more,
})
const programOf = async (more: Partial<TokenNew> = {}) =>
  accessOfToken(sql, (await makeToken(admin, asked(more))).token)
const AGAIN = { why: 'Counted again' }
const refusal = (code: string) => ({ code })

beforeAll(async () => {
  sql = await makeInstallation()
  await sql.query(`UPDATE round SET closes_at = '2026-11-30T00:00:00Z'`)
  for (const unit of ['elm', 'oak', 'ash']) {
    await fillReport(personOf('clerk', unit), OCTOBER, unit, { tested: 40, positive: 4, 'seen.f': 30 })
    await sendReport(personOf('clerk', unit), OCTOBER, unit)
  }
  // A draft is the facility's own business.
  await fillReport(personOf('clerk', 'yew'), OCTOBER, 'yew', { tested: 1 })
  await addRegister(sql, MEASLES_CASES)
  await takeEntries(sql, [
    entryMade(GIRL, {
      ...{ case_number: 'ASH-26-0001', full_name: 'Ila Marsh', sex: 'f' },
      ...{ born_on: '2021-05-03', rash_on: '2026-10-20' },
    }),
  ])
})
afterAll(closeDatabase)

describe('a token', () => {
  it('stands for a program that may what was ticked, in its branch, and is kept as a hash only', async () => {
    const { token } = await makeToken(admin, asked())
    expect(token).toMatch(/^lantern_[\w-]{43}$/)
    const program = await accessOfToken(sql, token)
    expect(program).toMatchObject({ role: 'machine', branch: 'north', displayName: 'Stock system' })
    expect([...program.without].sort()).toEqual(['extractPersonal', 'manageUnits'])
    const kept = await sql.query('SELECT * FROM api_token t JOIN person p ON p.id = t.person')
    expect(JSON.stringify(kept)).not.toContain(token)
  })

  it('is refused where it is unknown, past its last day, or ended', async () => {
    await expect(accessOfToken(sql, 'lantern_wrong')).rejects.toMatchObject(refusal('token-unknown'))
    const { id, token } = await makeToken(admin, asked({ lastDay: '2026-11-05' }))
    expect((await accessOfToken(sql, token)).id).toBe(id)
    const line = async () => (await listTokens(admin)).lines.find(one => one.id === id)
    // The day ends by the clock of the installation.
    const { endsAt } = (await line())!
    expect(Date.parse(endsAt) > Date.parse('2026-11-05T12:00:00Z')).toBe(true)
    const setEnd = (at: string) => sql.query('UPDATE api_token SET ends_at = $2 WHERE person = $1', [id, at])
    await setEnd('2026-11-05T12:00:00Z')
    await expect(accessOfToken(sql, token)).rejects.toMatchObject(refusal('token-over'))
    expect(await line()).toMatchObject({ state: 'over' })
    await setEnd(endsAt)
    await endToken(admin, id)
    await endToken(admin, id)
    await expect(accessOfToken(sql, token)).rejects.toMatchObject(refusal('token-ended'))
    expect(await line()).toMatchObject({
      state: 'ended',
      lastFour: token.slice(-4),
      lastUsedAt: expect.any(String),
    })
  })

  it('is made only for the own branch, for a day to come, and with cases where it shows personal answers', async () => {
    const ofNorth = personOf('administrator', 'north')
    await expect(makeToken(ofNorth, asked({ branch: 'south' }))).rejects.toMatchObject(
      refusal('outside-branch'),
    )
    await expect(makeToken(ofNorth, asked({ branch: null }))).rejects.toMatchObject(refusal('outside-branch'))
    await expect(makeToken(admin, asked({ lastDay: '2026-11-04' }))).rejects.toMatchObject(
      refusal('token-days'),
    )
    await expect(makeToken(admin, asked({ lastDay: '2029-11-04' }))).rejects.toMatchObject(
      refusal('token-days'),
    )
    await expect(makeToken(admin, asked({ gives: ['extractPersonal'] }))).rejects.toMatchObject(
      refusal('token-personal'),
    )
    const { id } = await makeToken(admin, asked({ branch: 'south' }))
    await expect(endToken(ofNorth, id)).rejects.toMatchObject(refusal('outside-branch'))
    expect((await listTokens(ofNorth)).lines.map(one => one.id)).not.toContain(id)
  })

  it('is no person: not among the people, and not to be changed into one', async () => {
    const { id } = await makeToken(admin, asked())
    expect((await listPeople(admin, {})).lines.map(one => one.id)).not.toContain(id)
    const person = { displayName: 'Xy', role: 'officer', branch: null, ownOnly: false } as const
    await expect(
      changePerson(admin, id, { ...person, active: true, without: [], sharing: null }),
    ).rejects.toMatchObject(refusal('not-found'))
  })

  it('answers so many requests a minute, and says when to go on', async () => {
    const { token } = await makeToken(admin, asked())
    for (let at = 0; at < 600; at++) await accessOfToken(sql, token)
    await expect(accessOfToken(sql, token)).rejects.toMatchObject({
      ...{ status: 429, code: 'too-many-requests' },
      headers: { 'retry-after': expect.stringMatching(/^\d+$/) },
    })
  })
})

describe('records', () => {
  it('are the reports that the district has, in the branch, with what was answered', async () => {
    const { records, next } = await reportRecords(await programOf(), { dataset: 'small' })
    expect(next).toBeNull()
    expect(records.map(({ unit, period, state }) => [unit, period, state])).toEqual([
      ['elm', '2026-10', 'sent'],
      ['oak', '2026-10', 'sent'],
    ])
    expect(records[0]!.cells).toContainEqual({ cell: 'tested', content: { kind: 'value', value: 40 } })
    await expect(reportRecords(await programOf(), { dataset: 'small', unit: 'ash' })).rejects.toMatchObject(
      refusal('outside-branch'),
    )
    await expect(reportRecords(admin, { dataset: 'small', after: 'x-y' })).rejects.toMatchObject(
      refusal('cursor'),
    )
  })

  it('are cases without personal answers, which are named, unless the token gives them', async () => {
    const register = MEASLES_CASES.code
    const open = await caseRecords(await programOf(), { register })
    expect(open.leftOut).toContain('full_name')
    const questions = open.records[0]!.answers.map(({ question }) => question)
    expect(questions).toContain('rash_on')
    expect(questions.filter(question => open.leftOut.includes(question))).toEqual([])
    expect(JSON.stringify(open.records)).not.toContain('Ila')
    expect(open.records[0]!.pseudonym).toMatch(/^P-/)
    const personal = await programOf({ gives: ['extract', 'extractPersonal'] })
    expect(JSON.stringify((await caseRecords(personal, { register })).records)).toContain('Ila Marsh')
    expect((await caseRecords(await programOf({ branch: 'south' }), { register })).records).toEqual([])
  })
})

describe('the list of changes', () => {
  it('names each thing once, at its latest change, in the branch only, and no draft', async () => {
    const { next } = await readFeed(officer)
    expect((await readFeed(officer, next)).changes).toEqual([])
    await fillReport(personOf('clerk', 'elm'), OCTOBER, 'elm', { tested: { value: 41, base: 1 } }, AGAIN)
    await fillReport(personOf('clerk', 'yew'), OCTOBER, 'yew', { tested: { value: 2, base: 1 } })
    await fillReport(personOf('clerk', 'ash'), OCTOBER, 'ash', { tested: { value: 41, base: 1 } }, AGAIN)
    await fillReport(personOf('clerk', 'elm'), OCTOBER, 'elm', { tested: { value: 42, base: 2 } }, AGAIN)
    const first = await readFeed(officer, next)
    expect(first.changes.map(({ kind, of, key, unit }) => [kind, of, key, unit])).toEqual([
      ['report', 'small', '2026-10', 'elm'],
    ])
    await sendBack(personOf('officer', null), OCTOBER, 'oak', 'Look again')
    const second = await readFeed(officer, first.next)
    expect(second.changes.map(({ unit }) => unit)).toEqual(['oak'])
    // Who begins where the first one began hears of both, each once.
    expect((await readFeed(officer, next)).changes.map(({ unit }) => unit)).toEqual(['elm', 'oak'])
    const everywhere = (await readFeed(admin, next)).changes.map(({ unit }) => unit)
    expect(everywhere).toEqual(['ash', 'elm', 'oak'])
  })

  it('has a place for everything after each night', async () => {
    await sql.query(
      `INSERT INTO changed_thing (at, kind, of, key, unit) VALUES (now(), 'unit', '', '', 'oak')`,
    )
    const waiting = () => sql.query('SELECT 1 FROM changed_thing WHERE seq IS NULL')
    expect(await waiting()).not.toEqual([])
    await tidy()
    expect(await waiting()).toEqual([])
  })

  it('has no place before one that was read, also where the change was noted long before', async () => {
    const { next } = await readFeed(admin)
    // Two transactions: the one that began first is committed last.
    await sql.query(
      `INSERT INTO changed_thing (id, at, kind, of, key, unit) OVERRIDING SYSTEM VALUE
       VALUES (900001, now(), 'unit', '', '', 'oak')`,
    )
    const first = await readFeed(admin, next)
    await sql.query(
      `INSERT INTO changed_thing (id, at, kind, of, key, unit) OVERRIDING SYSTEM VALUE
       VALUES (900000, now(), 'unit', '', '', 'elm')`,
    )
    const second = await readFeed(admin, first.next)
    expect([first, second].map(({ changes }) => changes.map(({ unit }) => unit))).toEqual([['oak'], ['elm']])
  })
})
