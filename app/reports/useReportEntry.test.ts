import 'fake-indexeddb/auto'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, ref, type EffectScope } from 'vue'
import type { CellChange, DeskOutcome } from '#core/contract/desk'
import type { ReportFile } from '#core/contract/reports'
import { SMALL } from '../../tests/support/installation'
import { deskAtHand } from '../../tests/support/desk-at-hand'
import { ApiProblem } from '../common/useApi'
import { sync } from '../device/useDesk'
import { useDeskStore } from '../device/useDeskStore'
import { readReport, useReportEntry } from './useReportEntry'

const number = (value: number) => ({ kind: 'value' as const, value })
const unit = { code: 'elm', name: 'Elm' }
const FILE: ReportFile = {
  round: {
    id: 'small~2026-10',
    dataset: 'small',
    name: SMALL.name,
    period: '2026-10',
    opensAt: '',
    dueAt: '',
    closesAt: '',
  },
  unit,
  district: unit,
  state: 'draft',
  sign: 'draft',
  receivedAt: null,
  sentBackWhy: null,
  edition: SMALL,
  cells: [{ cell: 'tested', content: number(10), version: 2 }],
  history: { periods: ['2026-09'], received: [1], notKnown: {}, notOffered: {}, numbers: { tested: [8] } },
  discrepancies: [],
  comments: {},
  conflicts: [],
  late: [],
  letIn: null,
}

let answerTo: (change: CellChange) => DeskOutcome
let reading: () => Promise<ReportFile>
let sending: () => Promise<void>
let call: Awaited<ReturnType<typeof deskAtHand>>['call']
const sent = () =>
  call.mock.calls.flatMap(([name, { body }]) =>
    name === 'POST /api/desk/send' ? (body!.changes as CellChange[]) : [],
  )

/** A report on a page that is left at the end of the test. */
let page: EffectScope
let entered: ReturnType<typeof useReportEntry>[] = []
const enter = (file = FILE) => {
  const entry = page.run(() => useReportEntry(file))!
  entered.push(entry)
  return entry
}

beforeEach(async () => {
  page = effectScope()
  answerTo = ({ id, base }) => ({ id, outcome: 'received', version: base + 1 })
  reading = () => Promise.resolve(FILE)
  sending = () => Promise.resolve()
  ;({ call } = await deskAtHand(
    (name, { body }) =>
      name.startsWith('GET')
        ? reading()
        : sending().then(() => ({
            at: '2026-11-05T12:00:00Z',
            outcomes: (body!.changes as CellChange[]).map(change => answerTo(change)),
          })),
    { ApiProblem, useI18n: () => ({ locale: ref('en') }) },
  ))
})
afterEach(async () => {
  // What a page began to send goes on after the test: it is waited for before its stand-ins are gone.
  for (const { outbox } of entered) await outbox.flush()
  entered = []
  page.stop()
  await sync()
  vi.unstubAllGlobals()
})

describe('a report that is read', () => {
  it('is held against the one before, number by number', () => {
    const [section] = SMALL.sections
    const codes = Array.from({ length: 12 }, (_, at) => `n${at}`)
    const edition = {
      ...{ ...SMALL, rules: [] },
      sections: [{ ...section!, items: codes.map(code => ({ ...section!.items[0]!, code })) }],
    }
    const of = (numbers: readonly number[]) =>
      enter({
        ...{ ...FILE, edition },
        cells: codes.map((cell, at) => ({ cell, content: number(numbers[at]!), version: 1 })),
        history: {
          ...FILE.history,
          numbers: Object.fromEntries(codes.map((code, at) => [code, [20 + at, 99]])),
        },
      }).likeLastPeriod()
    const same = codes.map((_, at) => 20 + at)
    expect(of([...same.slice(1).reverse(), 1])).toMatchObject({ compared: 12, copied: false })
    expect(of([...same.slice(0, 11), 1])).toEqual({ compared: 12, alike: 11, copied: true })
  })
})

describe('filling a report', () => {
  it('shows what is there, last period’s number, and doubts as they are typed', async () => {
    const entry = enter()
    expect([entry.contentOf('tested'), entry.lastValue('tested'), entry.contentOf('positive')]).toEqual([
      number(10),
      8,
      { kind: 'blank' },
    ])
    expect(entry.doubts.value).toEqual([])
    await entry.type('positive', '12')
    expect(entry.doubtsAt('tested')).toMatchObject([{ key: 'rule:within', strength: 'mustFix' }])
    await entry.type('positive', '1')
    expect(entry.doubts.value).toEqual([])
  })

  it('keeps each key on the device and sends the last, on the version that it has', async () => {
    const entry = enter()
    for (const text of ['1', '12', '123']) await entry.type('tested', text)
    await entry.outbox.flush()
    expect(sent()).toMatchObject([{ cell: 'tested', base: 2, content: number(123) }])
    await entry.type('tested', '124')
    await entry.outbox.flush()
    expect(sent().at(-1)).toMatchObject({ base: 3, content: number(124) })
  })

  it('goes back to the value from before when what is typed is no number', async () => {
    const entry = enter()
    const before = entry.contentOf('tested')
    await entry.type('tested', '2', before)
    await entry.type('tested', '2.5', before)
    expect(entry.problems.tested).toMatchObject({ code: 'cell-decimals' })
    expect(entry.contentOf('tested')).toEqual(number(10))
    await entry.type('tested', '25', before)
    expect(entry.problems.tested).toBeUndefined()
  })

  it('fills blanks with zeros, and takes them back', async () => {
    const entry = enter()
    const filled = await entry.zeros(['tested', 'positive', 'seen.f'])
    expect(filled).toEqual(['positive', 'seen.f'])
    expect(entry.contentOf('tested')).toEqual(number(10))
    await entry.blankAgain(filled)
    expect(entry.contentOf('seen.f')).toEqual({ kind: 'blank' })
    expect(entry.filled.value).toEqual({ answered: 1, applies: 4 })
    await entry.outbox.flush()
  })

  it('does not change a report that the district has until a reason is given', async () => {
    const entry = enter({ ...FILE, state: 'sent' })
    await entry.type('tested', '11')
    expect(entry.contentOf('tested')).toEqual(number(10))
    entry.why.value = 'a page was missed'
    await entry.type('tested', '11')
    await entry.outbox.flush()
    expect(sent().at(-1)).toMatchObject({ content: number(11), why: 'a page was missed' })
  })

  it('shows what the server refuses at the cell', async () => {
    answerTo = ({ id }) => ({
      id,
      outcome: 'refused',
      version: 2,
      code: 'cell-unknown',
      message: 'No such cell.',
    })
    const entry = enter()
    await entry.type('tested', '11')
    await entry.outbox.flush()
    expect(entry.problems.tested).toMatchObject({ code: 'cell-unknown' })
  })
})

describe('two people at one cell', () => {
  const conflicted = async () => {
    answerTo = ({ id }) => ({
      id,
      outcome: 'conflict',
      version: 5,
      theirs: { content: number(7), by: 'Renna', at: '' },
    })
    const entry = enter()
    await entry.type('tested', '11')
    await entry.outbox.flush()
    expect(entry.conflicts.tested).toMatchObject({ mine: number(11), theirs: { content: number(7) } })
    answerTo = ({ id, base }) => ({ id, outcome: 'received', version: base + 1 })
    return entry
  }

  it('mine goes on top of theirs', async () => {
    const entry = await conflicted()
    await entry.settleConflict('tested', 'mine')
    await entry.outbox.flush()
    expect(sent().at(-1)).toMatchObject({ base: 5, content: number(11) })
    expect(entry.conflicts.tested).toBeUndefined()
  })

  it('nothing lost, 9: or another value is typed over it, and decides it however many keys that takes', async () => {
    const entry = await conflicted()
    const id = sent().at(-1)!.id
    await Promise.all([entry.type('tested', '1'), entry.type('tested', '12'), entry.type('tested', '123')])
    expect(entry.conflicts.tested).toBeUndefined()
    await entry.outbox.flush()
    expect(sent().at(-1)).toMatchObject({ base: 5, content: number(123), settles: [id] })
    expect(await entry.outbox.waiting()).toEqual([])
  })

  it('or theirs stands, and the district hears which conflict that decides', async () => {
    const entry = await conflicted()
    const before = sent().length
    await entry.settleConflict('tested', 'theirs')
    await entry.outbox.flush()
    expect(entry.contentOf('tested')).toEqual(number(7))
    expect(sent()).toHaveLength(before + 1)
    expect(sent().at(-1)).toMatchObject({ base: 5, content: number(7), settles: [sent()[before - 1]!.id] })
  })
})

describe('opening a report', () => {
  it('takes up what waits on the device, on top of what the server has', async () => {
    const first = enter()
    await first.type('tested', '99')
    const again = enter()
    await again.restorePending()
    expect(again.contentOf('tested')).toEqual(number(99))
  })

  it('shows what needed a person still, though the page was closed meanwhile', async () => {
    answerTo = ({ id }) => ({
      id,
      outcome: 'conflict',
      version: 5,
      theirs: { content: number(7), by: 'Renna', at: '' },
    })
    const first = enter()
    await first.type('tested', '11')
    await first.outbox.flush()
    const again = enter()
    await again.restorePending()
    expect(again.conflicts.tested).toMatchObject({ mine: number(11), theirs: { content: number(7) } })
    answerTo = ({ id }) => ({ id, outcome: 'received', version: 6 })
    await again.settleConflict('tested', 'theirs')
    expect((await again.outbox.waiting()).filter(({ state }) => state === 'needsYou')).toEqual([])
  })

  it('keeps a conflict when the device has no room for its decision, and removes it with the next', async () => {
    answerTo = ({ id }) => ({
      id,
      outcome: 'conflict',
      version: 5,
      theirs: { content: number(7), by: 'Renna', at: '' },
    })
    const entry = enter()
    await entry.type('tested', '11')
    await entry.outbox.flush()
    const add = vi
      .spyOn(useDeskStore().changes.raw, 'add')
      .mockRejectedValueOnce(Object.assign(new Error('full'), { name: 'QuotaExceededError' }))
    await entry.settleConflict('tested', 'mine')
    add.mockRestore()
    expect(entry.problems.tested).toMatchObject({ code: 'storage-full' })
    expect(entry.conflicts.tested).toMatchObject({ mine: number(11) })
    expect((await entry.outbox.waiting()).map(({ state }) => state)).toEqual(['needsYou'])
    answerTo = ({ id }) => ({ id, outcome: 'received', version: 6 })
    await entry.settleConflict('tested', 'mine')
    await entry.outbox.flush()
    expect([entry.conflicts.tested, await entry.outbox.waiting()]).toEqual([undefined, []])
    expect(sent().at(-1)).toMatchObject({ content: number(11), settles: [expect.any(String)] })
  })

  it('says that a value could not be kept when the device is full, and keeps the next once there is room', async () => {
    const entry = enter()
    const add = vi
      .spyOn(useDeskStore().changes.raw, 'add')
      .mockRejectedValueOnce(Object.assign(new Error('full'), { name: 'QuotaExceededError' }))
    await entry.type('tested', '11')
    expect(entry.problems.tested).toMatchObject({ code: 'storage-full' })
    add.mockRestore()
    await entry.type('tested', '12')
    expect([entry.problems.tested, (await entry.outbox.waiting()).map(({ cell }) => cell)]).toEqual([
      undefined,
      ['tested'],
    ])
  })

  it('is closed while its sending waits, until that is taken back', async () => {
    const entry = enter()
    await entry.outbox.flush()
    const store = useDeskStore()
    await store.changes.put(
      {
        id: 's',
        place: 'small~2026-10|elm',
        state: 'waiting',
        change: { kind: 'send', id: 's', madeAt: '', round: 'small~2026-10', unit: 'elm', explanations: {} },
      },
      'id',
    )
    reading = () => Promise.reject(new ApiProblem(0, 'unreachable', ''))
    sending = () => Promise.reject(new ApiProblem(0, 'unreachable', ''))
    await entry.restorePending()
    expect([entry.sendWaits.value, entry.editable.value]).toEqual([true, false])
    await entry.takeSendBack()
    expect([entry.sendWaits.value, entry.editable.value]).toEqual([false, true])
  })

  it('numbers right, 10: works from what an earlier version of the application kept', async () => {
    const { received, notKnown, notOffered, ...before } = FILE.history
    expect([received, notKnown, notOffered]).toEqual([[1], {}, {}])
    reading = () => Promise.resolve({ ...FILE, history: before as typeof FILE.history })
    await readReport('small~2026-10', 'elm')
    reading = () => Promise.reject(new ApiProblem(0, 'unreachable', ''))
    const file = await readReport('small~2026-10', 'elm')
    expect(file.history).toEqual(FILE.history)
  })

  it('works from what this device last saw when there is no network, and only then', async () => {
    await readReport('small~2026-10', 'elm')
    reading = () => Promise.reject(new ApiProblem(0, 'unreachable', ''))
    expect((await readReport('small~2026-10', 'elm')).unit.code).toBe('elm')
    reading = () => Promise.reject(new ApiProblem(403, 'outside-branch', ''))
    await expect(readReport('small~2026-10', 'elm')).rejects.toMatchObject({ status: 403 })
    reading = () => Promise.reject(new ApiProblem(0, 'unreachable', ''))
    await expect(readReport('small~2026-10', 'oak')).rejects.toMatchObject({ unreachable: true })
  })

  it('shows what was received while the report was read, though the answer is from before it', async () => {
    const before = enter()
    await before.restorePending()
    let answer: (file: ReportFile) => void = () => undefined
    reading = () =>
      new Promise(resolve => {
        answer = resolve
      })
    const read = readReport('small~2026-10', 'elm')
    await before.type('tested', '11')
    await before.outbox.flush()
    const late = enter(FILE)
    await late.restorePending()
    expect(late.contentOf('tested')).toEqual(number(11))
    await late.type('tested', '12')
    await late.outbox.flush()
    expect(sent().map(({ base }) => base)).toEqual([2, 3])
    answer(FILE)
    expect((await read).cells).toEqual([{ cell: 'tested', content: number(12), version: 4 }])
  })

  it('shows what was sent between its opening and its first look at what waits', async () => {
    const before = enter()
    await before.restorePending()
    await before.type('tested', '11')
    const late = enter(FILE)
    // Its outcome is heard before the page has looked; afterwards nothing waits.
    await before.outbox.flush()
    await late.restorePending()
    expect(late.contentOf('tested')).toEqual(number(11))
  })

  it('lays nothing from before over what was typed on it', async () => {
    reading = () => Promise.reject(new ApiProblem(0, 'unreachable', ''))
    sending = () => Promise.reject(new ApiProblem(0, 'unreachable', ''))
    await enter().type('tested', '11')
    const late = enter(FILE)
    await Promise.all([late.type('tested', '12'), late.restorePending()])
    expect(late.contentOf('tested')).toEqual(number(12))
  })

  it('does not wait for a slow line where it has been opened before', async () => {
    await readReport('small~2026-10', 'elm')
    reading = () => new Promise(() => undefined)
    expect((await readReport('small~2026-10', 'elm')).unit.code).toBe('elm')
  })
})
