import '../../tests/support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { DeskChange } from '#core/contract/desk'
import { makeInstallation, personOf } from '../../tests/support/installation'
import { CARD_SETTINGS } from '../../tests/support/samples'
import { closeDatabase, type Database } from '../database'
import { reportFile } from '../reports/file'
import { dueList } from '../overview/due'
import { makeCard } from './cards'
import { deviceByToken, type Device } from './devices'
import { leaveOutLate, letIn } from './let-in'
import { pairDevice } from './pair'
import { receiveSince } from './receive'
import { applySent } from './send'
import { deskWork } from './work'

const officer = personOf('officer', 'north')
const clerk = personOf('clerk', 'elm')
const SEPTEMBER = 'small~2026-09'
const CLOSED_AT = '2026-10-18T00:00:00Z'
const BEFORE = '2026-10-17T21:00:00.000Z'
const AFTER = '2026-10-18T09:00:00.000Z'
let sql: Database
let device: Device

beforeAll(async () => {
  sql = await makeInstallation()
  const { code } = await makeCard(officer, {
    name: 'Elm',
    unit: 'elm',
    settings: CARD_SETTINGS,
    uses: 1,
    days: 7,
  })
  const paired = await pairDevice({ code }, 'here')
  device = await deviceByToken(paired.token, { access: clerk })
  expect(
    Date.parse(
      (await sql.query<{ at: string }>('SELECT closes_at AS at FROM round WHERE id = $1', [SEPTEMBER]))[0]!
        .at,
    ),
  ).toBe(Date.parse(CLOSED_AT))
})
afterAll(closeDatabase)

const cell = (name: string, value: number, madeAt: string): DeskChange => ({
  kind: 'cell',
  id: uuid(),
  madeAt,
  round: SEPTEMBER,
  unit: 'elm',
  cell: name,
  base: 0,
  content: { kind: 'value', value },
})
const send = (changes: DeskChange[], at = device) => applySent(clerk, at, { clockOffset: 0, changes })
const codes = async (changes: DeskChange[]) =>
  (await send(changes)).map(({ outcome, code }) => code ?? outcome)
const file = () => reportFile(officer, SEPTEMBER, 'elm')

describe('a round that closes under unsent work', () => {
  const tested = cell('tested', 12, BEFORE)
  const positive = cell('positive', 4, BEFORE)
  const sent: DeskChange = {
    kind: 'send',
    id: uuid(),
    madeAt: BEFORE,
    round: SEPTEMBER,
    unit: 'elm',
    explanations: {},
  }

  it('says received of nothing, keeps what was made before, and offers it to the officer once', async () => {
    expect(await codes([tested, positive])).toEqual(['after-closing', 'after-closing'])
    // The same again, and with the act of sending.
    expect(await codes([tested, positive, sent])).toEqual(['after-closing', 'after-closing', 'after-closing'])
    const { state, cells, late } = await file()
    expect([state, cells]).toEqual(['awaited', []])
    expect(
      late.map(({ kind, cell: of, content, by, device: from, madeAt, problem }) => [
        kind,
        of,
        content,
        by,
        from,
        Date.parse(madeAt) === Date.parse(BEFORE),
        problem,
      ]),
    ).toEqual([
      ['cell', 'tested', { kind: 'value', value: 12 }, 'The clerk', 'Elm 1', true, null],
      ['cell', 'positive', { kind: 'value', value: 4 }, 'The clerk', 'Elm 1', true, null],
      ['send', null, null, 'The clerk', 'Elm 1', true, null],
    ])
    // The facility does not decide, and does not see the officer's copy.
    expect((await reportFile(clerk, SEPTEMBER, 'elm')).late).toEqual([])
  })

  it('refuses what was made after the closing, and an identifier that is used for something else', async () => {
    expect(await codes([cell('seen.f', 3, AFTER)])).toEqual(['round-closed'])
    expect(await codes([{ ...cell('tested', 99, BEFORE), id: tested.id }])).toEqual(['change-reused'])
    expect((await file()).late).toHaveLength(3)
  })

  it('is applied in the act that lets the facility in, as the person who typed it; its device hears that it has something new', async () => {
    const stamp = async () => (await receiveSince(clerk, {})).definitions
    const before = await stamp()
    expect((await dueList(clerk)).now.map(({ round }) => round.id)).not.toContain(SEPTEMBER)
    await expect(letIn(officer, SEPTEMBER, 'elm', '2026-11-04', 'The boat came late.')).rejects.toMatchObject(
      { code: 'let-in-day' },
    )
    await expect(letIn(officer, SEPTEMBER, 'ash', '2026-11-08', 'The boat came late.')).rejects.toMatchObject(
      { code: 'outside-branch' },
    )
    const done = await letIn(officer, SEPTEMBER, 'elm', '2026-11-08', 'The boat came late.')
    expect(done).toEqual({ until: '2026-11-09T00:00:00.000Z', applied: 3, left: 0 })
    const { state, cells, late, letIn: given } = await file()
    expect(state).toBe('sent')
    expect(
      cells.map(({ cell: of, content }) => [of, content.kind === 'value' && content.value]).sort(),
    ).toEqual([
      ['positive', 4],
      ['tested', 12],
    ])
    expect([late, given]).toEqual([
      [],
      { until: '2026-11-09T00:00:00.000Z', why: 'The boat came late.', by: 'The officer' },
    ])
    const [event] = await sql.query<{ person: string }>('SELECT person FROM cell_event WHERE id = $1', [
      tested.id,
    ])
    expect(event!.person).toBe(clerk.id)
    expect(await stamp()).not.toBe(before)
    // What the device still has is known when it comes again.
    expect(await codes([tested, positive, sent])).toEqual(['alreadyHad', 'alreadyHad', 'alreadyHad'])
  })

  it('lets the facility go on until the day, and no other facility', async () => {
    const of = async (access = clerk) =>
      (await dueList(access)).sent.find(({ round }) => round.id === SEPTEMBER)?.round.closesAt
    expect(await of()).toBe('2026-11-09T00:00:00.000Z')
    const more = { ...cell('seen.f', 3, AFTER), why: 'One page was missing.' } as DeskChange
    expect(await codes([more])).toEqual(['received'])
    expect(
      (
        await applySent(personOf('clerk', 'oak'), device, {
          clockOffset: 0,
          changes: [{ ...cell('tested', 1, AFTER), unit: 'oak' }],
        })
      )[0]!.code,
    ).toBe('round-closed')
  })

  it('what cannot be applied stays offered with its reason; what the officer leaves out is told to the device', async () => {
    const wrong = [
      { ...cell('tested', 5, BEFORE), unit: 'oak' },
      { ...cell('positive', 9, BEFORE), unit: 'oak' },
      { ...sent, id: uuid(), unit: 'oak' },
    ] as DeskChange[]
    const oak = personOf('clerk', 'oak')
    const fromOak = async () =>
      (await applySent(oak, device, { clockOffset: 0, changes: wrong })).map(
        ({ outcome, code }) => code ?? outcome,
      )
    expect(await fromOak()).toEqual(['after-closing', 'after-closing', 'after-closing'])
    // The tests find access by the person's row, which has no branch here.
    expect(await letIn(officer, SEPTEMBER, 'oak', '2026-11-08', 'Paper came by boat.')).toMatchObject({
      applied: 2,
      left: 1,
    })
    expect(
      (await reportFile(officer, SEPTEMBER, 'oak')).late.map(({ kind, problem }) => [kind, problem]),
    ).toEqual([['send', 'must-fix']])
    await leaveOutLate(officer, SEPTEMBER, 'oak', 'It is sent again with the right number.')
    expect((await reportFile(officer, SEPTEMBER, 'oak')).late).toEqual([])
    await expect(leaveOutLate(officer, SEPTEMBER, 'oak', 'Again.')).rejects.toMatchObject({
      code: 'nothing-offered',
    })
    await sql.query(`UPDATE let_in SET until = '2026-11-01T00:00:00Z' WHERE unit = 'oak'`)
    expect(await fromOak()).toEqual(['alreadyHad', 'alreadyHad', 'left-out'])
    expect((await deskWork(oak)).leftOut).toEqual([
      { id: wrong[2]!.id, why: 'It is sent again with the right number.' },
    ])
    expect((await dueList(oak)).closed).toMatchObject([{ state: 'draft', round: { id: SEPTEMBER } }])
  })
})
