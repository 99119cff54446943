import type { Static } from '@sinclair/typebox'
import { parse } from 'csv-parse/sync'
import { v7 as uuid } from 'uuid'
import { beforeAll, describe, expect, inject, it } from 'vitest'
import type { DiscrepancyFile, DiscrepancyList } from '#core/contract/discrepancies'
import type { DistrictReport } from '#core/contract/district-reports'
import type { Board, Today } from '#core/contract/rounds'
import type { CellStory, ReportFile } from '#core/contract/reports'
import { numberOf } from '#core/report/cell'
import { Client, OCTOBER } from '../support/client'
import { TestDevice } from '../support/test-device'

const address = inject('address')
const REPORT = `/api/reports/${OCTOBER}/gull_rock`
let officer: Client
let clerk: Client
let device: TestDevice
const number = (value: number) => ({ kind: 'value' as const, value })

beforeAll(async () => {
  officer = await Client.signedIn(address, 'officer.quillan_isles')
  clerk = await Client.signedIn(address, 'clerk.stack_island')
  device = await TestDevice.at(address, 'stack_island')
})

const file = async (client: Client, path: string) => (await client.get<ReportFile>(path)).body
const lines = async (client: Client) =>
  (await client.get<Static<typeof DiscrepancyList>>(`/api/discrepancies?round=${OCTOBER}`)).body.lines
const one = async (client: Client, id: string) =>
  (await client.get<DiscrepancyFile>(`/api/discrepancies/${id}`)).body
/** Changes cells from a device of the facility. @returns the outcomes. */
const change = async (of: TestDevice, unit: string, changes: object[]) =>
  (
    await of.sendNow(
      changes.map(one => ({
        kind: 'cell',
        id: uuid(),
        madeAt: '2026-11-09T10:00:00Z',
        round: OCTOBER,
        unit,
        ...one,
      })),
    )
  ).body.outcomes

describe('the demo', () => {
  it('finds every planted doubt, and tells how many others it raised', async () => {
    const { body } = await (await Client.signedIn(address, 'admin')).get<Today>('/api/today')
    expect(body.planted).toMatchObject({ planted: 49, found: 49, later: 10 })
    expect(body.planted!.pairs).toMatchObject({ planted: 4, found: 4 })
    expect(body.planted!.cases).toMatchObject({ planted: 6, found: 6 })
    expect(body.planted!.others).toBeLessThanOrEqual(14)
  })

  it('expects 22 facilities in Ashmere, each with its last 12 rounds', async () => {
    const { body } = await (
      await Client.signedIn(address, 'officer.ashmere')
    ).get<Board>(`/api/rounds/${OCTOBER}/board`)
    expect(body.rows).toHaveLength(22)
    expect(body.rows.every(({ lanterns }) => lanterns.length === 12)).toBe(true)
    // It opened in May: the rounds before did not expect it.
    const opened = body.rows.find(({ unit }) => unit.code === 'old_quay')!
    expect(opened.lanterns.map(({ sign }) => sign === null)).toEqual([
      ...Array<boolean>(6).fill(true),
      ...Array<boolean>(6).fill(false),
    ])
  })

  it('rolls a facility that moved up where it was', async () => {
    const tolben = await Client.signedIn(address, 'officer.tolben_vale')
    const sorrel = await Client.signedIn(address, 'officer.sorrel_downs')
    const has = async (client: Client, round: string) =>
      (await client.get<Board>(`/api/rounds/${round}/board`)).body.rows.some(
        ({ unit }) => unit.code === 'rook_hollow',
      )
    expect([
      await has(tolben, 'monthly_summary~2026-06'),
      await has(sorrel, 'monthly_summary~2026-06'),
    ]).toEqual([true, false])
    expect([
      await has(tolben, 'monthly_summary~2026-07'),
      await has(sorrel, 'monthly_summary~2026-07'),
    ]).toEqual([false, true])
  })

  it('expects a facility in the month in which it closed, and not after', async () => {
    const has = async (month: string) =>
      (await officer.get<Board>(`/api/rounds/monthly_summary~${month}/board`)).body.rows.some(
        ({ unit }) => unit.code === 'last_light',
      )
    expect([await has('2026-03'), await has('2026-04')]).toEqual([true, false])
  })
})

describe('changes of a report', () => {
  const PATH = `/api/reports/${OCTOBER}/stack_island`

  it('make the same difference when they come twice', async () => {
    const changes = [
      {
        id: uuid(),
        cell: 'days_open',
        base: (await file(clerk, PATH)).cells.find(({ cell }) => cell === 'days_open')?.version ?? 0,
        content: number(21),
        why: 'a later count',
      },
    ]
    const [first] = await change(device, 'stack_island', changes)
    const [second] = await change(device, 'stack_island', changes)
    expect([first!.outcome, second!.outcome]).toEqual(['received', 'alreadyHad'])
    expect(second!.version).toBe(first!.version)
  })

  it('of one cell by two people: the second is told, with both values, and nothing is overwritten', async () => {
    const version = (await file(clerk, PATH)).cells.find(({ cell }) => cell === 'days_open')!.version
    await change(device, 'stack_island', [
      { cell: 'days_open', base: version, content: number(22), why: 'first' },
    ])
    const [outcome] = await change(device, 'stack_island', [
      { cell: 'days_open', base: version, content: number(19), why: 'second' },
    ])
    expect(outcome).toMatchObject({
      outcome: 'conflict',
      version: version + 1,
      theirs: { content: number(22) },
    })
    expect((await file(clerk, PATH)).cells.find(({ cell }) => cell === 'days_open')!.content).toEqual(
      number(22),
    )
  })

  it('leave their whole story: who, when, where from, old, new, why', async () => {
    const { body } = await clerk.get<CellStory>(`${PATH}/cells/days_open`)
    expect(body.events[0]).toMatchObject({ new: number(22), old: number(21), why: 'first', origin: 'desk' })
    expect(body.events[0]!.by.length).toBeGreaterThan(3)
    expect(body.events.at(-1)!.old).toEqual({ kind: 'blank' })
  })
})

describe('a report with a doubt', () => {
  let id: string
  let gullRock: TestDevice
  beforeAll(async () => {
    gullRock = await TestDevice.at(address, 'gull_rock')
  })

  it('cannot be changed without a reason once the district has it', async () => {
    const [outcome] = await change(gullRock, 'gull_rock', [
      { cell: 'days_open', base: 1, content: number(20) },
    ])
    expect(outcome).toMatchObject({ outcome: 'refused', code: 'why-missing' })
  })

  it('is asked about, answered with a correction, and settled', async () => {
    const line = (await lines(officer)).find(({ unit }) => unit.code === 'gull_rock')!
    id = line.id
    expect(line).toMatchObject({
      state: 'open',
      strength: 'explain',
      holds: true,
      title: { en: 'More treated than positive' },
    })
    await officer.post(`/api/discrepancies/${id}/ask`, { text: 'Were they found elsewhere?' })
    expect((await one(gullRock.person, id)).line.state).toBe('asked')
    const { cells } = await one(gullRock.person, id)
    const positive = cells.find(({ cell }) => cell === 'syphilis_positive')!
    const treated = cells.find(({ cell }) => cell === 'syphilis_treated')!
    const right = numberOf(positive.content)!
    expect(
      (
        await officer.post(`/api/discrepancies/${id}/settle`, {
          outcome: 'corrected',
          text: 'no correction yet',
          corrections: [],
        })
      ).body.code,
    ).toBe('still-holds')
    const { body } = await gullRock.sendNow([
      {
        kind: 'answer',
        id: uuid(),
        madeAt: '2026-11-09T10:00:00Z',
        discrepancy: id,
        text: 'Written twice.',
        corrections: [{ cell: 'syphilis_treated', base: treated.version, content: number(right) }],
      },
    ])
    expect(body.outcomes).toMatchObject([{ outcome: 'received' }])
    const answered = await one(officer, id)
    expect(answered.line).toMatchObject({ state: 'answered', holds: false, effect: null })
    expect(
      (
        await officer.post(`/api/discrepancies/${id}/settle`, {
          outcome: 'corrected',
          text: 'Thank you.',
          corrections: [],
        })
      ).status,
    ).toBe(200)
    expect((await one(officer, id)).thread.map(({ act }) => act)).toEqual([
      'found',
      'asked',
      'answered',
      'settled',
    ])
  })

  it('lapses when the values that were settled change back', async () => {
    const { cells } = await one(officer, id)
    const treated = cells.find(({ cell }) => cell === 'syphilis_treated')!
    await change(gullRock, 'gull_rock', [
      { cell: 'syphilis_treated', base: treated.version, content: number(9), why: 'counted again' },
    ])
    const lapsed = await one(officer, id)
    expect(lapsed.line).toMatchObject({ state: 'lapsed', holds: true, outcome: null })
    expect((await officer.post(`${REPORT}/accept`)).body.code).toBe('doubts-left')
    await officer.post(`/api/discrepancies/${id}/settle`, {
      outcome: 'explained',
      text: 'Women from the mainland.',
      corrections: [],
    })
    expect((await officer.post(`${REPORT}/accept`)).body).toMatchObject({ state: 'accepted' })
  })
})

describe('the district report', () => {
  const PATH = `/api/district-reports/${OCTOBER}`
  const report = async () => (await officer.get<DistrictReport>(PATH)).body
  /** Signs what is shown. */
  const sign = async () => officer.post(`${PATH}/sign`, { checksum: (await report()).toSign })

  it('cannot be signed while doubts block', async () => {
    const now = await report()
    expect(now.state).toBe('gathering')
    expect(now.blocking.length).toBeGreaterThan(0)
    expect((await sign()).body.code).toBe('blocked')
  })

  it('is signed when each is settled, once for the same figures', async () => {
    for (const { id } of (await report()).blocking) {
      expect(
        (
          await officer.post(`/api/discrepancies/${id}/settle`, {
            outcome: 'explained',
            text: 'Seen at the facility.',
            corrections: [],
          })
        ).status,
      ).toBe(200)
    }
    expect((await report()).state).toBe('ready')
    expect((await sign()).status).toBe(200)
    expect((await sign()).body.code).toBe('nothing-changed')
    const signed = await report()
    expect(signed.state).toBe('signed')
    expect(signed.signatures[0]!.checksum).toMatch(/^[0-9a-f]{64}$/)
  })

  it('stays as it is when a facility’s value changes afterwards, and says which', async () => {
    const before = await report()
    const gullRock = await TestDevice.at(address, 'gull_rock')
    const now = await file(gullRock.person, REPORT)
    const injuries = now.cells.find(({ cell }) => cell === 'injuries.f')!
    const old = numberOf(injuries.content)!
    await change(gullRock, 'gull_rock', [
      { cell: 'injuries.f', base: injuries.version, content: number(old + 5), why: 'a page was missed' },
    ])
    const after = await report()
    expect(after.figures).toEqual(before.figures)
    expect(after.signatures).toEqual(before.signatures)
    expect(after.changedSince).toMatchObject([
      { kind: 'cell', unit: { code: 'gull_rock' }, cell: 'injuries.f', signed: old, now: old + 5 },
    ])
  })

  it('becomes amendment 2 when it is signed again', async () => {
    expect((await sign()).status).toBe(200)
    const amended = await report()
    expect(amended).toMatchObject({ state: 'amended', changedSince: [] })
    expect(amended.signatures.map(({ amendment }) => amendment)).toEqual([1, 2])
    expect(amended.signatures[0]!.checksum).not.toBe(amended.signatures[1]!.checksum)
  })

  it('leaves as CSV that another library reads, with the same figures', async () => {
    const { text, headers, type } = await officer.get(`${PATH}/csv?language=fr`)
    expect(type).toContain('text/csv')
    expect(headers.get('content-disposition')).toContain('quillan_isles_district-monthly_summary-2026-10.csv')
    const rows = parse(text, { columns: true }) as Record<string, string>[]
    const { figures } = await report()
    const line = figures.sections
      .flatMap(section => section.lines)
      .find(({ item }) => item === 'live_births')!
    const row = rows.find(({ item, bands }) => item === 'live_births' && bands === '')!
    expect(row).toMatchObject({
      name: 'Naissances vivantes',
      value: String(line.value),
      reports_in: String(line.reportsIn),
    })
    expect(rows.some(({ section }) => section === 'indicators')).toBe(true)
  })

  it('adds up to what its bands and its facilities say', async () => {
    const { figures } = await report()
    for (const line of figures.sections
      .flatMap(section => section.lines)
      .filter(({ bands, item }) => bands.length && item !== 'days_open')) {
      expect(line.bands.reduce((sum, { value }) => sum + (value ?? 0), 0)).toBe(line.value ?? 0)
    }
  })
})
