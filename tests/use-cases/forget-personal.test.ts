import '../support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest'
import { pseudonymOf } from '#core/cases/personal'
import { MEASLES_CASES } from '../../demo/registers/measles'
import { caseFile } from '../../server/cases/file'
import { forgetPersonal } from '../../server/cases/forget-personal'
import { actOnCase } from '../../server/cases/life'
import { listCases } from '../../server/cases/list'
import { mergePair } from '../../server/cases/pair-acts'
import { listPairs } from '../../server/cases/pair-list'
import { closeDatabase, type Database } from '../../server/database'
import { verify } from '../../server/verification/verify'
import { addRegister, entryMade, takeEntries, type Values } from '../support/cases'
import { makeInstallation, personOf } from '../support/installation'

const admin = personOf('administrator', null)
const HASH = 'ab'.repeat(32)
let sql: Database
let number = 0

beforeAll(async () => {
  sql = await makeInstallation()
  await addRegister(sql, { ...MEASLES_CASES, keeping: { ...MEASLES_CASES.keeping!, years: 1 } })
})
afterEach(() => {
  vi.useRealTimers()
})
afterAll(closeDatabase)

const sick = (more: Values = {}) => {
  number++
  return entryMade(uuid(), {
    case_number: `ELM-26-000${number}`,
    full_name: ['Ila Marsh', 'Tavi Quill', 'Orsel Brannoch', 'Wenna Drift'][number % 4]!,
    sex: 'f',
    born_on: '2019-03-11',
    village: 'Saltings',
    rash_on: '2026-10-12',
    notified_on: '2026-10-13',
    ...more,
  })
}
const knownOf = async (id: string) =>
  (
    await sql.query<{ known: Record<string, { value: unknown }> }>(
      'SELECT known FROM case_record WHERE id = $1',
      [id],
    )
  )[0]!.known
const later = (days: number) => vi.useFakeTimers({ toFake: ['Date'], now: Date.now() + days * 86_400_000 })
const everything = async () =>
  JSON.stringify(
    await Promise.all(
      ['case_record', 'case_entry', 'case_block', 'case_pair', 'discrepancy'].map(table =>
        sql.query(`SELECT * FROM ${table}`),
      ),
    ),
  )

describe('personal answers past their time', () => {
  const picture = { hash: HASH, mediaType: 'image/jpeg', bytes: 3 }
  const old = sick({ vaccinated: 'yes', doses: 1, card_photo: picture as never })
  const twin = sick({ full_name: 'Tavi Quil', case_number: 'ELM-26-0901' })
  const fresh = sick({ full_name: 'Perran Osk', born_on: '1990-01-01' })

  it('are all there on the last day of it', async () => {
    await takeEntries(sql, [old, twin, fresh])
    await sql.query(
      `INSERT INTO stored_file (hash, unit, bytes, media_type, received_at) VALUES ($1, 'elm', 3, 'image/jpeg', now())`,
      [HASH],
    )
    const specimen = { specimen_number: 'S1', taken_on: '2026-10-10', result: 'positive' }
    await takeEntries(sql, [entryMade(old.case, specimen, { form: 'specimen' })])
    const [pair] = (await listPairs(admin, { case: old.case })).lines
    await mergePair(admin, pair!.id, old.case)
    later(342)
    expect(await forgetPersonal(sql)).toBe(0)
    expect(await everything()).toContain('Tavi Quill')
  })

  it('are replaced on the day after, in the entries, the lists, the search, and of merged cases too', async () => {
    later(344)
    await takeEntries(sql, [entryMade(fresh.case, { home_visited_on: '2027-10-01' }, { form: 'home_visit' })])
    expect(await forgetPersonal(sql)).toBe(1)
    const pseudonym = pseudonymOf(old.case)
    expect(await knownOf(old.case)).toMatchObject({
      full_name: { value: pseudonym },
      case_number: { value: pseudonym },
      born_on: { value: '2019' },
      sex: { value: 'f' },
      rash_on: { value: '2026-10-12' },
      doses: { value: 1 },
    })
    const text = await everything()
    for (const personal of ['Tavi', '2019-03-11', HASH, 'ELM-26-0901']) expect(text).not.toContain(personal)
    expect(text).toContain('Perran Osk')
    expect(await sql.query('SELECT 1 FROM stored_file')).toEqual([])
    const view = await caseFile(admin, old.case)
    expect(view.forgottenAt).not.toBeNull()
    expect((await listCases(admin, { find: pseudonym })).lines.map(({ id }) => id)).toEqual([old.case])
    expect(await verify()).toEqual([])
  })

  it('are not replaced twice; what comes later is, in its own time', async () => {
    later(345)
    expect(await forgetPersonal(sql)).toBe(0)
    await takeEntries(sql, [
      entryMade(old.case, { home_visited_on: '2027-10-10' }, { form: 'home_visit' }),
      { ...old, id: uuid(), corrects: old.id },
    ])
    expect(await knownOf(old.case)).toMatchObject({ full_name: { value: 'Tavi Quill' } })
    expect(
      (await listPairs(admin, { case: old.case })).lines.filter(({ state }) => state === 'open'),
    ).toEqual([])
    expect(await forgetPersonal(sql)).toBe(0)
    later(345 + 371)
    expect(await forgetPersonal(sql)).toBe(2)
    expect(await everything()).not.toContain('Tavi Quill')
    expect(await verify()).toEqual([])
  })

  it('stay counted where they were, and are moved and closed like others', async () => {
    await actOnCase(admin, old.case, { act: 'move', to: 'oak', since: null, text: 'Registered wrongly' })
    expect((await listCases(admin, { register: 'measles_cases', answers: 'sex=f' })).counts?.found).toBe(2)
    expect(await verify()).toEqual([])
  })
})
