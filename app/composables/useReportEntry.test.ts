import 'fake-indexeddb/auto'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { ref } from 'vue'
import type { Change, ChangeOutcome, ReportFile } from '#core/contract/reports'
import { SMALL } from '../../tests/support/installation'
import { giveGlobals } from '../../tests/support/nuxt-globals'
import { ApiProblem } from './useApi'
import { useDeviceStore } from './useDeviceStore'
import { readReport, useReportEntry } from './useReportEntry'

const number = (value: number) => ({ kind: 'value' as const, value })
const unit = { code: 'elm', name: 'Elm' }
const FILE: ReportFile = {
  round: { id: 'small~2026-10', dataset: 'small', name: SMALL.name, period: '2026-10', opensAt: '', dueAt: '', closesAt: '' },
  unit, district: unit, state: 'draft', sign: 'draft', receivedAt: null, sentBackWhy: null, edition: SMALL,
  cells: [{ cell: 'tested', content: number(10), version: 2 }],
  history: { periods: ['2026-09'], numbers: { tested: [8] } },
  discrepancies: [], comments: {},
}

let answerTo: (change: Change) => ChangeOutcome
const call = vi.fn((_name: string, { body }: { body?: { changes: Change[] } }): Promise<unknown> =>
  Promise.resolve({ state: 'draft', receivedAt: '', outcomes: (body?.changes ?? []).map(change => answerTo(change)) }))
const sent = () => call.mock.calls.flatMap(([, { body }]) => body?.changes ?? [])

beforeEach(async () => {
  call.mockClear()
  answerTo = ({ id, cell, base }) => ({ id, cell, outcome: 'received', version: base + 1 })
  giveGlobals({ callApi: call, ApiProblem, useSession: () => ({ signIns: 0 }), useI18n: () => ({ locale: ref('en') }), window: globalThis })
  await useDeviceStore().changes.clear()
  await useDeviceStore().files.clear()
})
afterEach(() => vi.unstubAllGlobals())

describe('filling a report', () => {
  it('shows what is there, last period’s number, and doubts as they are typed', async () => {
    const entry = useReportEntry(FILE, 'p')
    expect([entry.contentOf('tested'), entry.lastNumber('tested'), entry.contentOf('positive')]).toEqual([number(10), 8, { kind: 'blank' }])
    expect(entry.doubts.value).toEqual([])
    await entry.type('positive', '12')
    expect(entry.doubtsAt('tested')).toMatchObject([{ key: 'rule:within', strength: 'mustFix' }])
    await entry.type('positive', '1')
    expect(entry.doubts.value).toEqual([])
  })

  it('keeps each key on the device and sends the last, on the version that it has', async () => {
    const entry = useReportEntry(FILE, 'p')
    for (const text of ['1', '12', '123']) await entry.type('tested', text)
    await entry.outbox.flush()
    expect(sent()).toMatchObject([{ cell: 'tested', base: 2, content: number(123) }])
    await entry.type('tested', '124')
    await entry.outbox.flush()
    expect(sent().at(-1)).toMatchObject({ base: 3, content: number(124) })
  })

  it('goes back to the value from before when what is typed is no number', async () => {
    const entry = useReportEntry(FILE, 'p')
    const before = entry.contentOf('tested')
    await entry.type('tested', '2', before)
    await entry.type('tested', '2.5', before)
    expect(entry.problems.tested).toMatchObject({ code: 'cell-decimals' })
    expect(entry.contentOf('tested')).toEqual(number(10))
    await entry.type('tested', '25', before)
    expect(entry.problems.tested).toBeUndefined()
  })

  it('fills blanks with zeros, and takes them back', async () => {
    const entry = useReportEntry(FILE, 'p')
    const filled = await entry.zeros(['tested', 'positive', 'seen.f'])
    expect(filled).toEqual(['positive', 'seen.f'])
    expect(entry.contentOf('tested')).toEqual(number(10))
    await entry.blankAgain(filled)
    expect(entry.contentOf('seen.f')).toEqual({ kind: 'blank' })
    expect(entry.filled.value).toEqual({ answered: 1, applies: 4 })
    await entry.outbox.flush()
  })

  it('does not change a report that the district has until a reason is given', async () => {
    const entry = useReportEntry({ ...FILE, state: 'sent' }, 'p')
    await entry.type('tested', '11')
    expect(entry.contentOf('tested')).toEqual(number(10))
    entry.why.value = 'a page was missed'
    await entry.type('tested', '11')
    await entry.outbox.flush()
    expect(sent().at(-1)).toMatchObject({ content: number(11), why: 'a page was missed' })
  })

  it('shows what the server refuses at the cell', async () => {
    answerTo = ({ id, cell }) => ({ id, cell, outcome: 'refused', version: 2, code: 'cell-unknown', message: 'No such cell.' })
    const entry = useReportEntry(FILE, 'p')
    await entry.type('tested', '11')
    await entry.outbox.flush()
    expect(entry.problems.tested).toMatchObject({ code: 'cell-unknown' })
  })
})

describe('two people at one cell', () => {
  const conflicted = async () => {
    answerTo = ({ id, cell }) => ({ id, cell, outcome: 'conflict', version: 5, theirs: { content: number(7), by: 'Renna', at: '' } })
    const entry = useReportEntry(FILE, 'p')
    await entry.type('tested', '11')
    await entry.outbox.flush()
    expect(entry.conflicts.tested).toMatchObject({ mine: number(11), theirs: { content: number(7) } })
    answerTo = ({ id, cell, base }) => ({ id, cell, outcome: 'received', version: base + 1 })
    return entry
  }

  it('mine goes on top of theirs', async () => {
    const entry = await conflicted()
    await entry.settleConflict('tested', 'mine')
    await entry.outbox.flush()
    expect(sent().at(-1)).toMatchObject({ base: 5, content: number(11) })
    expect(entry.conflicts.tested).toBeUndefined()
  })

  it('or theirs stands, and nothing more is sent', async () => {
    const entry = await conflicted()
    const before = sent().length
    await entry.settleConflict('tested', 'theirs')
    await entry.outbox.flush()
    expect(entry.contentOf('tested')).toEqual(number(7))
    expect(sent()).toHaveLength(before)
  })
})

describe('opening a report', () => {
  it('takes up what waits on the device, on top of what the server has', async () => {
    const first = useReportEntry(FILE, 'p')
    await first.type('tested', '99')
    const again = useReportEntry(FILE, 'p')
    await again.takeUpWaiting()
    expect(again.contentOf('tested')).toEqual(number(99))
  })

  it('works from what this device last saw when there is no network, and only then', async () => {
    call.mockResolvedValueOnce(FILE)
    await readReport('p', 'small~2026-10', 'elm')
    call.mockRejectedValueOnce(new ApiProblem(0, 'unreachable', ''))
    expect((await readReport('p', 'small~2026-10', 'elm')).unit.code).toBe('elm')
    call.mockRejectedValueOnce(new ApiProblem(403, 'outside-branch', ''))
    await expect(readReport('p', 'small~2026-10', 'elm')).rejects.toMatchObject({ status: 403 })
    call.mockRejectedValueOnce(new ApiProblem(0, 'unreachable', ''))
    await expect(readReport('q', 'small~2026-10', 'elm')).rejects.toMatchObject({ unreachable: true })
  })
})
