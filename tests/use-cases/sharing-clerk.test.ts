import '../support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { MEASLES_CASES, MEASLES_CONTACTS } from '../../demo/registers/measles'
import { accessById, type Access } from '../../server/access/access'
import { caseFile } from '../../server/cases/file'
import { actOnCase } from '../../server/cases/life'
import { closeDatabase, type Database } from '../../server/database'
import { receiveSince } from '../../server/desk/receive'
import { viewOf } from '../../server/desk/standing'
import { deskDefinitions, deskWork } from '../../server/desk/work'
import { listCaseDoubts } from '../../server/discrepancies/about-cases'
import { ask } from '../../server/discrepancies/act'
import { listDiscrepancies } from '../../server/discrepancies/list'
import { dueList } from '../../server/overview/due'
import { makePerson } from '../../server/people/manage'
import { reportFile } from '../../server/reports/file'
import { addRegister, entryMade, takeEntries } from '../support/cases'
import { answerQuestion, fillReport, sendChanges, sendReport } from '../support/facility'
import { addDataset, makeInstallation, OCTOBER, personOf, SMALL } from '../support/installation'

const OTHER = 'other~2026-10'
const officer = personOf('officer', 'north')
const whole = personOf('clerk', 'elm')
/** A clerk of one ward: one dataset, one register. */
const ward: Access = {
  ...whole,
  sharing: { datasets: ['small'], registers: [{ register: 'measles_cases', where: '' }] },
}
const CASE = uuid()
const CONTACT = uuid()
let sql: Database

beforeAll(async () => {
  sql = await makeInstallation()
  for (const register of [MEASLES_CASES, MEASLES_CONTACTS]) await addRegister(sql, register)
  await sql.transaction(tx => addDataset(tx, { ...SMALL, dataset: 'other' }, '2026-07-01'))
  for (const round of [OCTOBER, OTHER]) {
    await fillReport(whole, round, 'elm', { tested: 10, positive: 12 })
    await sendReport(whole, round, 'elm', { 'rule:within': 'It is so.' })
  }
  await takeEntries(sql, [
    entryMade(CASE, {
      ...{ full_name: 'Ila Marsh', born_on: '2021-05-03', rash_on: '2026-10-20', sex: 'f' },
    }),
    entryMade(CASE, { specimen_number: 'S-1', taken_on: '2026-10-02' }, { form: 'specimen' }),
    entryMade(
      CONTACT,
      { contact_name: 'Ada Fen' },
      { form: 'contact', register: 'measles_contacts', parent: CASE },
    ),
  ])
  for (const { id } of (await listDiscrepancies(officer, {})).lines) await ask(officer, id, 'Why?')
  for (const { id } of (await listCaseDoubts(officer, {})).lines) await ask(officer, id, 'Why?')
})
afterAll(closeDatabase)

/** What a device hears from the beginning, each kind with what it is about. */
async function heard(access: Access) {
  const { events } = await receiveSince(access, { most: 2000 })
  return new Set(
    events.map(event =>
      event.kind === 'cell' || event.kind === 'report' || event.kind === 'question'
        ? `${event.kind} ${event.round}`
        : `${event.kind} ${event.case}`,
    ),
  )
}

describe('the device of a clerk who sees a part of the facility', () => {
  it('gets the reports and questions of the datasets that are shared', async () => {
    const { due, reports, conversations } = await deskWork(ward)
    const listed = [...due.now, ...due.ahead, ...due.closed, ...due.sent].map(one => one.round.dataset)
    expect(new Set([...listed, ...due.coming.map(({ dataset }) => dataset)])).toEqual(new Set(['small']))
    expect(new Set(reports.map(({ round }) => round.dataset))).toEqual(new Set(['small']))
    expect(conversations.map(({ line }) => line.round.dataset)).toEqual(['small'])
    const all = await deskWork(whole)
    expect(new Set(all.reports.map(({ round }) => round.dataset))).toEqual(new Set(['small', 'other']))
    expect(all.conversations).toHaveLength(2)
    expect((await dueList(ward)).sent.map(({ round }) => round.id)).toContain(OCTOBER)
  })

  it('gets the registers that are shared, with their cases and what is asked about them', async () => {
    expect((await deskDefinitions(ward)).registers.map(({ register }) => register)).toEqual(['measles_cases'])
    expect((await deskDefinitions(whole)).registers).toHaveLength(2)
    expect((await deskWork(ward)).caseConversations.map(({ line }) => line.case.id)).toEqual([CASE])
    const contacts = { ...ward, sharing: { datasets: null, registers: [] } }
    expect((await deskWork(contacts)).caseConversations).toEqual([])
    expect((await deskDefinitions(contacts)).registers).toEqual([])
  })

  it('hears of nothing else', async () => {
    expect(await heard(ward)).toEqual(
      new Set([
        ...[`cell ${OCTOBER}`, `report ${OCTOBER}`, `question ${OCTOBER}`],
        ...[`entry ${CASE}`, `caseQuestion ${CASE}`],
      ]),
    )
    expect(await heard(whole)).toEqual(
      new Set([
        ...(await heard(ward)),
        ...['cell', 'report', 'question'].map(kind => `${kind} ${OTHER}`),
      ]).add(`entry ${CONTACT}`),
    )
  })

  it('hears of no case of another register when one is closed', async () => {
    await actOnCase(officer, CONTACT, { act: 'close', on: '2026-11-04', outcome: 'lost', text: 'Gone.' })
    await actOnCase(officer, CASE, { act: 'close', on: '2026-11-04', outcome: 'completed', text: 'Well.' })
    expect(await heard(ward)).toContain(`case ${CASE}`)
    expect(await heard(ward)).not.toContain(`case ${CONTACT}`)
    expect(await heard(whole)).toContain(`case ${CONTACT}`)
  })

  it('changes nothing else: each change is refused by itself, and those of what is shared are taken', async () => {
    const made = () => ({ id: uuid(), madeAt: '2026-11-05T11:00:00Z' })
    const cell = (round: string) => ({
      ...{
        kind: 'cell' as const,
        ...made(),
        round,
        unit: 'elm',
        cell: 'tested',
        base: 1,
        why: 'Miscounted.',
      },
      content: { kind: 'value' as const, value: 12 },
    })
    const contact = entryMade(
      uuid(),
      { contact_name: 'Una Reed' },
      { form: 'contact', register: 'measles_contacts', parent: CASE },
    )
    const outcomes = await sendChanges(ward, [
      cell(OCTOBER),
      cell(OTHER),
      { kind: 'comment', ...made(), round: OTHER, unit: 'elm', cell: 'tested', text: 'Look.' },
      { kind: 'caseAct', ...made(), unit: 'elm', case: CONTACT, act: { act: 'reopen', text: 'Came back.' } },
      contact,
      entryMade(CASE, { specimen_number: 'S-2', taken_on: '2026-10-03' }, { form: 'specimen' }),
    ])
    expect(outcomes.map(({ outcome, code }) => code ?? outcome)).toEqual([
      ...['received', 'not-shared', 'not-shared', 'not-shared', 'not-shared', 'received'],
    ])
  })

  it('answers no question about anything else, and opens no case or report of it', async () => {
    const { lines } = await listDiscrepancies(officer, {})
    const about = (dataset: string) => lines.find(({ round }) => round.dataset === dataset)!.id
    await expect(answerQuestion(ward, about('other'), 'So.')).rejects.toMatchObject({ code: 'not-shared' })
    await answerQuestion(ward, about('small'), 'So it is.')
    const doubt = (await listCaseDoubts(officer, {})).lines[0]!.id
    const contacts = { ...ward, sharing: { datasets: null, registers: [] } }
    await expect(answerQuestion(contacts, doubt, 'So.')).rejects.toMatchObject({ code: 'not-shared' })
    await expect(caseFile(ward, CONTACT)).rejects.toMatchObject({ code: 'not-shared' })
    await expect(reportFile(ward, OTHER, 'elm')).rejects.toMatchObject({ code: 'not-shared' })
  })

  it('is told that something else is shared', () => {
    expect(viewOf(ward)).toMatch(/^[0-9a-f]{16}$/)
    expect(
      new Set([ward, whole, { ...ward, branch: 'oak' }, { ...ward, ownOnly: true }].map(viewOf)).size,
    ).toBe(4)
  })
})

describe('an administrator', () => {
  it('holds a clerk to datasets and registers, without conditions', async () => {
    const asked = {
      ...{
        userName: 'ward',
        displayName: 'Ward clerk',
        role: 'clerk' as const,
        branch: 'elm',
        ownOnly: false,
      },
    }
    const admin = personOf('administrator', null)
    await expect(
      makePerson(admin, {
        ...asked,
        sharing: { datasets: [], registers: [{ register: 'measles_cases', where: 'sex=f' }] },
      }),
    ).rejects.toMatchObject({ code: 'sharing-conditions' })
    const { id } = await makePerson(admin, { ...asked, sharing: ward.sharing })
    expect((await accessById(id)).sharing).toEqual(ward.sharing)
  })
})
