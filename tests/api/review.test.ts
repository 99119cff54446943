import { v7 as uuid } from 'uuid'
import { beforeAll, describe, expect, inject, it } from 'vitest'
import type { Board } from '#core/contract/rounds'
import type { CellStory, ReportFile } from '#core/contract/reports'
import { Client, OCTOBER } from '../support/client'
import { TestDevice } from '../support/test-device'

const address = inject('address')
let officer: Client
beforeAll(async () => {
  officer = await Client.signedIn(address, 'officer.sorrel_downs')
})

const rows = async () => (await officer.get<Board>(`/api/rounds/${OCTOBER}/board`)).body.rows
const path = (unit: string, act = '') => `/api/reports/${OCTOBER}/${unit}${act}`

describe('accepting', () => {
  it('takes every sent report without a doubt, and only those', async () => {
    const before = await rows()
    const clean = before
      .filter(row => row.state === 'sent' && !row.mustFix && !row.explain)
      .map(({ unit }) => unit.code)
    const doubtful = before.filter(row => row.mustFix || row.explain).map(({ unit }) => unit.code)
    expect([clean.length > 0, doubtful.length > 0]).toEqual([true, true])
    expect(
      (
        await officer.post<{ accepted: { code: string }[] }>(`/api/rounds/${OCTOBER}/accept`, {})
      ).body.accepted
        .map(({ code }) => code)
        .sort(),
    ).toEqual([...clean].sort())
    const after = new Map((await rows()).map(row => [row.unit.code, row.state]))
    expect(clean.map(unit => after.get(unit))).toEqual(clean.map(() => 'accepted'))
    expect(doubtful.map(unit => after.get(unit))).toEqual(doubtful.map(() => 'sent'))
    expect((await officer.post(`/api/rounds/${OCTOBER}/accept`, {})).body).toEqual({ accepted: [] })
  })

  it('of one that nobody sent is refused', async () => {
    const awaited = (await rows()).find(({ state }) => state === 'awaited')
    if (awaited) expect((await officer.post(path(awaited.unit.code, '/accept'))).body.code).toBe('state')
    expect((await officer.post(path('chalk_hill', '/accept'))).body.code).toBe('doubts-left')
  })
})

describe('sending back', () => {
  it('takes the report out of the figures until it is sent again, and tells the facility why', async () => {
    const unit = (await rows()).find(({ state }) => state === 'accepted')!.unit.code
    const { body: before } = await officer.get<Board>(`/api/rounds/${OCTOBER}/board`)
    expect(
      (await officer.post(path(unit, '/send-back'), { why: 'The second page is missing.' })).body,
    ).toMatchObject({ state: 'sentBack' })
    const { body: after } = await officer.get<Board>(`/api/rounds/${OCTOBER}/board`)
    expect(after.reporting.received).toBe(before.reporting.received - 1)
    const device = await TestDevice.at(address, unit)
    expect((await device.person.get<ReportFile>(path(unit))).body).toMatchObject({
      state: 'sentBack',
      sentBackWhy: 'The second page is missing.',
    })
    const send = { kind: 'send', id: uuid(), madeAt: '2026-11-09T10:00:00Z', round: OCTOBER, unit }
    const sent = await device.sendNow([{ ...send, explanations: {} }])
    expect(sent.body.outcomes).toMatchObject([{ outcome: 'received' }])
    expect((await device.person.get<ReportFile>(path(unit))).body.state).toBe('sent')
    expect((await officer.get<Board>(`/api/rounds/${OCTOBER}/board`)).body.reporting).toEqual(
      before.reporting,
    )
  })

  it('needs a reason', async () => {
    expect((await officer.post(path('chalk_hill', '/send-back'), { why: ' ' })).body.code).toBe('schema')
  })
})

describe('comments', () => {
  it('stay beside the cell, with who wrote them', async () => {
    await officer.post(path('chalk_hill', '/cells/days_open/comments'), { text: 'Closed for the flood.' })
    const { body } = await officer.get<CellStory>(path('chalk_hill', '/cells/days_open'))
    expect(body.comments).toMatchObject([{ by: 'Corvin Hythe', text: 'Closed for the flood.' }])
    expect((await officer.get<ReportFile>(path('chalk_hill'))).body.comments).toEqual({ days_open: 1 })
    expect((await officer.get(path('chalk_hill', '/cells/no_such_cell'))).status).toBe(404)
  })
})
