import '../support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { grantsOf, may, REMOVABLE } from '#core/contract/permission'
import type { PersonLine, Sharing } from '#core/contract/people'
import { MEASLES_CASES, MEASLES_CONTACTS } from '../../demo/registers/measles'
import { accessById, type Access } from '../../server/access/access'
import { caseFile } from '../../server/cases/file'
import { listCases } from '../../server/cases/list'
import { listPairs, pairFile } from '../../server/cases/pair-list'
import { closeDatabase, type Database } from '../../server/database'
import { caseDoubtFile, listCaseDoubts } from '../../server/discrepancies/about-cases'
import { listDiscrepancies } from '../../server/discrepancies/list'
import { discrepancyFile } from '../../server/discrepancies/read'
import { facilityFile } from '../../server/overview/facility'
import { today } from '../../server/overview/today'
import { changePerson, listPeople, makePerson } from '../../server/people/manage'
import { listDatasets } from '../../server/publishing/dataset-list'
import { listRounds } from '../../server/rounds/list'
import { search } from '../../server/search/search'
import { addRegister, entryMade, takeEntries } from '../support/cases'
import { fillReport, sendReport } from '../support/facility'
import { addDataset, makeInstallation, OCTOBER, personOf, SMALL } from '../support/installation'

const admin = personOf('administrator', null)
let sql: Database
/** One who is a girl and confirmed by the laboratory's answer, one who is a boy; both twice. */
const GIRL = uuid()
const GIRL_AGAIN = uuid()
const BOY = uuid()
const BOY_AGAIN = uuid()
const CONTACT = uuid()
const OTHER = 'other~2026-10'

const reader = (sharing: Sharing | null): Access => ({ ...personOf('reader', 'north'), sharing })
const GIRLS = reader({ datasets: [], registers: [{ register: 'measles_cases', where: 'sex=f' }] })
const SMALL_ONLY = reader({ datasets: ['small'], registers: [] })

beforeAll(async () => {
  sql = await makeInstallation()
  for (const register of [MEASLES_CASES, MEASLES_CONTACTS]) await addRegister(sql, register)
  await sql.transaction(tx => addDataset(tx, { ...SMALL, dataset: 'other' }, '2026-07-01'))
  const clerk = personOf('clerk', 'elm')
  for (const round of [OCTOBER, OTHER]) {
    await fillReport(clerk, round, 'elm', { tested: 10, positive: 12 })
    await sendReport(clerk, round, 'elm', { 'rule:within': 'It is so.' })
  }
  const values = { full_name: 'Ila Marsh', born_on: '2021-05-03', rash_on: '2026-10-20' }
  const boy = { full_name: 'Tavi Osk', born_on: '2019-02-11', rash_on: '2026-10-21' }
  await takeEntries(sql, [
    ...[GIRL, GIRL_AGAIN].map(id => entryMade(id, { ...values, sex: 'f' }, { unit: 'elm' })),
    ...[BOY, BOY_AGAIN].map(id => entryMade(id, { ...boy, sex: 'm' }, { unit: 'elm' })),
    ...[GIRL, BOY].map(id =>
      entryMade(id, { specimen_number: 'S-1', taken_on: '2026-10-02' }, { unit: 'elm', form: 'specimen' }),
    ),
    entryMade(
      CONTACT,
      { contact_name: 'Ada Fen' },
      { unit: 'elm', form: 'contact', register: 'measles_contacts', parent: BOY },
    ),
  ])
})
afterAll(closeDatabase)

const refusal = (code: string) => ({ code })
const idsOf = async (who: Access) => (await listCases(who, {})).lines.map(({ id }) => id).sort()

describe('a reader of one programme', () => {
  it('sees its cases that meet the condition, in every list, and no others', async () => {
    expect(await idsOf(reader(null))).toHaveLength(5)
    expect(await idsOf(GIRLS)).toEqual([GIRL, GIRL_AGAIN].sort())
    const hits = (await search(GIRLS, 'Tavi')).concat(await search(GIRLS, 'Ila'))
    expect(
      hits
        .filter(({ kind }) => kind === 'case')
        .map(({ code }) => code)
        .sort(),
    ).toEqual([GIRL, GIRL_AGAIN].sort())
    expect((await listPairs(reader(null), {})).lines).toHaveLength(2)
    const pairs = await listPairs(GIRLS, {})
    expect(pairs.counts.open).toBe(1)
    expect(pairs.lines.map(({ one, other }) => [one.id, other.id].sort())).toEqual([
      [GIRL, GIRL_AGAIN].sort(),
    ])
    const doubts = await listCaseDoubts(GIRLS, {})
    expect([doubts.lines.map(line => line.case.id), doubts.counts.unsettled]).toEqual([[GIRL], 1])
    expect((await listCaseDoubts(reader(null), {})).counts.unsettled).toBe(2)
  })

  it('opens no other by its identifier', async () => {
    expect((await caseFile(GIRLS, GIRL)).id).toBe(GIRL)
    await expect(caseFile(GIRLS, BOY)).rejects.toMatchObject(refusal('not-shared'))
    await expect(caseFile(GIRLS, CONTACT)).rejects.toMatchObject(refusal('not-shared'))
    const [boys] = (await listPairs(reader(null), {})).lines.filter(({ one }) =>
      [BOY, BOY_AGAIN].includes(one.id),
    )
    await expect(pairFile(GIRLS, boys!.id)).rejects.toMatchObject(refusal('not-shared'))
    const [doubt] = (await listCaseDoubts(reader(null), {})).lines.filter(line => line.case.id === BOY)
    await expect(caseDoubtFile(GIRLS, doubt!.id)).rejects.toMatchObject(refusal('not-shared'))
  })

  it('does not see the case that one of theirs belongs to, where it is not shared', async () => {
    const contacts = reader({
      datasets: [],
      registers: [{ register: 'measles_contacts', where: '' }],
    })
    expect(await idsOf(contacts)).toEqual([CONTACT])
    expect((await caseFile(contacts, CONTACT)).parent).toBeNull()
    expect((await caseFile(reader(null), CONTACT)).parent).not.toBeNull()
  })

  it('sees nothing of a register whose condition cannot be read any more', async () => {
    const unread = reader({
      datasets: null,
      registers: [{ register: 'measles_cases', where: 'no_such_question=f' }],
    })
    expect(await idsOf(unread)).toEqual([])
    await expect(caseFile(unread, GIRL)).rejects.toMatchObject(refusal('not-shared'))
  })

  it('sees no report of a dataset that is not shared, wherever reports are told', async () => {
    const rounds = (await listRounds(SMALL_ONLY)).map(({ dataset }) => dataset)
    expect(new Set(rounds)).toEqual(new Set(['small']))
    expect((await listDatasets(SMALL_ONLY)).map(({ edition }) => edition.dataset)).toEqual(['small'])
    const all = await listDiscrepancies(reader(null), {})
    const { lines, counts } = await listDiscrepancies(SMALL_ONLY, {})
    expect([all.counts.unsettled, counts.unsettled]).toEqual([2, 1])
    expect(lines.map(({ round }) => round.dataset)).toEqual(['small'])
    const hidden = all.lines.find(({ round }) => round.dataset === 'other')!
    await expect(discrepancyFile(SMALL_ONLY, hidden.id)).rejects.toMatchObject(refusal('not-shared'))
    expect(new Set((await today(SMALL_ONLY)).rounds.map(({ round }) => round.dataset))).toEqual(
      new Set(['small']),
    )
    const { reporting } = await facilityFile(SMALL_ONLY, 'elm')
    expect(reporting.flatMap(one => one.rounds.map(({ dataset }) => dataset))).not.toContain('other')
    const found = (await search(SMALL_ONLY, 'other')).filter(({ kind }) => kind === 'round')
    expect(found).toEqual([])
    expect((await listDiscrepancies(GIRLS, {})).lines).toEqual([])
  })
})

describe('what an administrator shares', () => {
  const line = async (userName: string) =>
    (await listPeople(admin, {})).lines.find(one => one.userName === userName)!
  const changed = async (one: PersonLine, more: Partial<PersonLine>) => {
    const { id, displayName, role, branch, ownOnly, without, sharing, active } = { ...one, ...more }
    await changePerson(admin, id, {
      ...{ displayName, role, branch: branch?.code ?? null, ownOnly, without, sharing, active },
    })
  }
  const make = (role: PersonLine['role'], userName: string, sharing: Sharing | null = null) =>
    makePerson(admin, {
      ...{ userName, displayName: userName, role, branch: 'north', ownOnly: false, sharing },
    })

  it('is kept with the person, and refused where nobody could see anything by it', async () => {
    await make('reader', 'programme', GIRLS.sharing)
    expect(await line('programme')).toMatchObject({ sharing: GIRLS.sharing, without: [] })
    const refused = async (sharing: Sharing, code: string, role: PersonLine['role'] = 'reader') =>
      expect(make(role, `refused.${code}`, sharing)).rejects.toMatchObject({ code })
    await refused({ datasets: [], registers: [] }, 'shares-nothing')
    await refused({ datasets: ['nowhere'], registers: [] }, 'share-dataset')
    await refused({ datasets: [], registers: [{ register: 'nowhere', where: '' }] }, 'share-register')
    await refused(
      { datasets: [], registers: [{ register: 'measles_cases', where: 'shoe_size=9' }] },
      'filter-question',
    )
    await refused({ datasets: ['small'], registers: [] }, 'sharing-role', 'officer')
  })

  it('takes away what a role may do, from one person, at once', async () => {
    const { id } = await make('officer', 'unsigned')
    expect(may(await accessById(id), 'sign')).toBe(true)
    await changed(await line('unsigned'), { without: ['sign'] })
    const access = await accessById(id)
    expect(may(access, 'sign')).toBe(false)
    expect(grantsOf('officer').filter(one => may(access, one))).toHaveLength(grantsOf('officer').length - 1)
    await changed(await line('unsigned'), { without: [] })
    expect(may(await accessById(id), 'sign')).toBe(true)
    expect(REMOVABLE).not.toContain('look')
  })

  it('is not what was taken away from the administrator, nor their own', async () => {
    const { id } = await make('administrator', 'half')
    await changed(await line('half'), { without: ['define'] })
    const half = await accessById(id)
    await expect(
      makePerson(half, {
        ...{
          userName: 'whole',
          displayName: 'whole',
          role: 'administrator',
          branch: 'north',
          ownOnly: false,
        },
      }),
    ).rejects.toMatchObject(refusal('not-yours-to-give'))
    const own = await line('half')
    await expect(
      changePerson(half, id, {
        ...{ displayName: 'half', role: 'administrator', branch: 'north', ownOnly: false, active: true },
        ...{ without: [...own.without, 'managePeople'], sharing: null },
      }),
    ).rejects.toMatchObject(refusal('not-yourself'))
  })
})
