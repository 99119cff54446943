import 'fake-indexeddb/auto'
import { effectScope, type EffectScope } from 'vue'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { DeskChange, DeskEvent, DeskWork } from '#core/contract/desk'
import { deskAtHand, sendings } from '../../tests/support/desk-at-hand'
import { ApiProblem } from '../common/useApi'
import { sync, cachedFetch, useDesk } from './useDesk'
import { cacheWork, applyEvents, receiveNews } from './useDeskReceive'
import { noteOutcomes } from './useDeskSend'
import { tidyStore } from './useDeskTidy'
import type { CaseRegister, FormRole } from '#core/cases/register'
import type { Answers } from '#core/form/answer'
import type { FormPart } from '#core/form/question'

type Sent = { body?: { changes?: DeskChange[]; start?: number; data?: string; bytes?: number } }
let page: EffectScope
let answer: (name: string, given: Sent) => unknown
let hand: Awaited<ReturnType<typeof deskAtHand>>
const received = ({ body }: Sent) => ({
  at: '2026-11-05T12:00:00Z',
  outcomes: body!.changes!.map(({ id }) => ({ id, outcome: 'received' })),
})

beforeEach(async () => {
  page = effectScope()
  answer = (name, given) =>
    name === 'POST /api/desk/send' ? received(given) : { upTo: given.body!.bytes, done: true }
  hand = await deskAtHand(async (name, given) => answer(name, given as Sent), { ApiProblem })
})
afterEach(async () => {
  page.stop()
  await sync()
  vi.unstubAllGlobals()
})

const desk = () => page.run(() => useDesk())!
const entry = (id: string, of = 'c1') => ({
  id,
  case: of,
  register: 'r',
  edition: 1,
  form: 'f',
  unit: 'elm',
  answers: {},
})
const stateOf = async (id: string) => (await hand.store.entries.get('id', id))?.state

describe('an entry', () => {
  it('takes the place of its draft in one act, and an entry that cannot be kept leaves the draft', async () => {
    const own = desk()
    const draft = { place: 'form|measles', at: 1, content: { answers: {} } }
    await hand.store.drafts.put(draft, 'place')
    await own.saveEntry(entry('e1'), draft.place)
    expect(await hand.store.drafts.all()).toEqual([])
    await hand.store.drafts.put(draft, 'place')
    await expect(own.saveEntry(entry('e1'), draft.place)).rejects.toThrow()
    expect(await hand.store.drafts.all()).toHaveLength(1)
  })
})

describe('a contact', () => {
  it('sends forms and acts in one request, forms first, and writes down what went and came', async () => {
    const own = desk()
    answer = () => {
      throw new ApiProblem(0, 'unreachable', '')
    }
    await own.saveAct('r|u', { kind: 'send', id: 's1', madeAt: '', round: 'r', unit: 'u', explanations: {} })
    await own.saveEntry(entry('e1'))
    await sync()
    expect([own.state.value, own.waiting.value]).toEqual(['noNetwork', 2])
    answer = (_name, given) => received(given)
    const before = sendings(hand.call)
    await sync()
    expect(sendings(hand.call) - before).toBe(1)
    expect(
      hand.call.mock.calls
        .findLast(([name]) => name === 'POST /api/desk/send')![1]
        .body!.changes.map(({ kind }) => kind),
    ).toEqual(['entry', 'send'])
    expect([own.waiting.value, await stateOf('e1'), own.lastSync.value]).toMatchObject([
      0,
      'received',
      { sent: 2, refused: 0, ended: 'done' },
    ])
  })

  it('keeps what the district refuses, with the reason, and sends it no more', async () => {
    const own = desk()
    answer = (_name, { body }) => ({
      at: '',
      outcomes: body!.changes!.map(({ id }) => ({ id, outcome: 'refused', code: 'entry-form', message: '' })),
    })
    await own.saveEntry(entry('e1'))
    await sync()
    expect(await hand.store.entries.get('id', 'e1')).toMatchObject({ state: 'refused', why: 'entry-form' })
    const before = sendings(hand.call)
    await sync()
    expect(sendings(hand.call)).toBe(before)
  })

  it('what users met, 19: reads nothing anew where a contact brought nothing', async () => {
    const own = desk()
    await sync()
    const before = [own.changes.value, own.syncs.value.length]
    const tidied = async () => (await hand.store.serverCache.get('key', 'tidiedAt'))?.answer
    const at = await tidied()
    await new Promise(resolve => {
      setTimeout(resolve, 5)
    })
    await sync()
    expect([own.changes.value, own.syncs.value.length]).toEqual([before[0], before[1]! + 1])
    // Tidying reads all that was received: not at each contact.
    expect([typeof at, await tidied()]).toEqual(['number', at])
    await own.saveAct('r|u', { kind: 'send', id: 's9', madeAt: '', round: 'r', unit: 'u', explanations: {} })
    await sync()
    expect(own.changes.value).toBeGreaterThan(before[0]!)
  })

  it('hears what the office left out, with its reason, without asking again', async () => {
    const own = desk()
    answer = (_name, { body }) => ({
      at: '2026-11-05T12:00:00Z',
      outcomes: body!.changes!.map(({ id }) => ({
        id,
        outcome: 'refused',
        code: 'after-closing',
        message: '',
      })),
    })
    await own.saveAct('r|u', { kind: 'send', id: 's1', madeAt: '', round: 'r', unit: 'u', explanations: {} })
    await sync()
    const change = () => hand.store.changes.get('id', 's1')
    expect(await change()).toMatchObject({ state: 'needsYou', why: 'after-closing' })
    await cacheWork(hand.store, {
      at: '',
      due: { now: [], ahead: [], closed: [], coming: [], sent: [] },
      questions: { lines: [] },
      reports: [],
      conversations: [],
      leftOut: [{ id: 's1', why: 'The paper says otherwise.' }],
    } as unknown as DeskWork)
    expect(await change()).toMatchObject({
      state: 'needsYou',
      why: 'left-out',
      said: 'The paper says otherwise.',
    })
    expect(sendings(hand.call)).toBe(1)
  })

  it('erases the device only when the district blocked it, not when it does not know it', async () => {
    const own = desk()
    answer = () => {
      throw new ApiProblem(401, 'device-unknown', '')
    }
    await own.saveEntry(entry('e1'))
    await sync()
    expect([own.state.value, hand.vault.erase.mock.calls.length, await stateOf('e1')]).toEqual([
      'signedOut',
      0,
      'waiting',
    ])
    answer = () => {
      throw new ApiProblem(403, 'device-blocked', '')
    }
    await sync()
    expect(hand.vault.erase).toHaveBeenCalledOnce()
  })

  it('waits for Wi-Fi where that is set, unless somebody asks for it or a day has gone by', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
    const own = desk()
    await sync()
    hand.vault.device.settings = { ...hand.vault.device.settings, wifiOnly: true }
    vi.stubGlobal('navigator', { connection: { type: 'cellular' } })
    const before = hand.call.mock.calls.length
    await sync()
    expect([own.state.value, hand.call.mock.calls.length]).toEqual(['waitsForWifi', before])
    await sync(true)
    expect(hand.call.mock.calls.length).toBeGreaterThan(before)
    vi.spyOn(Date, 'now').mockReturnValue(Date.now() + 25 * 3_600_000)
    const later = hand.call.mock.calls.length
    // By itself: it looks again every five minutes.
    await vi.advanceTimersByTimeAsync(5 * 60_000)
    await vi.waitFor(() => expect(hand.call.mock.calls.length).toBeGreaterThan(later))
    await sync(true)
    vi.useRealTimers()
    vi.restoreAllMocks()
  })
})

describe('pictures', () => {
  const bytes = Uint8Array.from({ length: 100_000 }, (_, at) => at % 251)
  const keep = () =>
    hand.store.putFile(
      { hash: 'h', state: 'waiting', bytes: bytes.length, mediaType: 'image/jpeg', upTo: 0, at: Date.now() },
      bytes,
    )
  const starts: number[] = []
  const piece = (_name: string, { body }: Sent) => {
    starts.push(body!.start!)
    return {
      upTo: body!.start! + Buffer.from(body!.data!, 'base64').length,
      done: body!.start! + Buffer.from(body!.data!, 'base64').length === bytes.length,
    }
  }
  beforeEach(() => {
    starts.length = 0
  })

  it('go in pieces, and from where they broke off', async () => {
    await keep()
    answer = (name, given) => {
      if (starts.length === 1) throw new ApiProblem(0, 'unreachable', '')
      return piece(name, given)
    }
    await sync()
    answer = piece
    await sync()
    expect(starts).toEqual([0, 48_000, 96_000])
    expect(await hand.store.files.get('h')).toMatchObject({ state: 'received', upTo: 100_000 })
    expect((await hand.store.bytesOf('h'))!.bytes).toEqual(bytes)
  })

  it('that were changed on their way go again from the beginning; those that are none hold up nothing else', async () => {
    await keep()
    answer = () => {
      throw new ApiProblem(422, 'file-changed', '')
    }
    await sync()
    expect(await hand.store.files.get('h')).toMatchObject({ state: 'waiting', upTo: 0 })
    answer = () => {
      throw new ApiProblem(422, 'file-kind', '')
    }
    await sync()
    expect(await hand.store.files.get('h')).toMatchObject({ state: 'refused' })
    expect(desk().state.value).toBe('idle')
  })

  it('nothing lost, 8: go on from where the district has them, never past a piece that is missing', async () => {
    await keep()
    let here = 0
    // The district threw the second piece away.
    answer = (_name, { body }) => {
      starts.push(body!.start!)
      here = starts.length === 2 ? here : body!.start! + Buffer.from(body!.data!, 'base64').length
      return { upTo: here, done: here === bytes.length }
    }
    await sync()
    await sync()
    expect(starts).toEqual([0, 48_000, 0, 48_000, 96_000])
    expect(await hand.store.files.get('h')).toMatchObject({ state: 'received' })
  })
})

describe('nothing lost, 2: what this device sent', () => {
  const cell = (id: string) => ({
    kind: 'cell' as const,
    id,
    madeAt: '',
    round: 'r',
    unit: 'u',
    cell: 'tested',
    base: 0,
    content: { kind: 'value' as const, value: 1 },
  })
  const keepCell = (id: string) =>
    hand.store.changes.put(
      { id, place: 'r|u', state: 'waiting', cell: 'tested', base: 0, change: cell(id) },
      'id',
    )
  let standing: { incarnation: number; backedUpTo: string | null }
  beforeEach(() => {
    standing = { incarnation: 1, backedUpTo: null }
    answer = (name, given) =>
      name === 'POST /api/desk/send'
        ? { ...received(given), at: new Date().toISOString(), ...standing }
        : { upTo: given.body!.bytes, done: true }
  })
  const states = async () => (await hand.store.changes.all()).map(({ id, state }) => [id, state])
  const sentLast = () =>
    hand.call.mock.calls
      .findLast(([name]) => name === 'POST /api/desk/send')![1]
      .body!.changes.map(({ id }) => id)

  it('stays until the district says that it is in a backup, and shows nowhere as unsent meanwhile', async () => {
    const own = desk()
    await keepCell('c1')
    await sync()
    expect([own.waiting.value, await states(), await hand.store.unsettled('r|u')]).toEqual([
      0,
      [['c1', 'confirmed']],
      [],
    ])
    standing = { incarnation: 1, backedUpTo: new Date(Date.now() + 1000).toISOString() }
    await keepCell('c2')
    await sync()
    expect(await states()).toEqual([])
  })

  it('is dropped after 35 days all the same', async () => {
    await keepCell('c1')
    await sync()
    vi.spyOn(Date, 'now').mockReturnValue(Date.now() + 36 * 86_400_000)
    await tidyStore(hand.store, 90)
    vi.restoreAllMocks()
    expect(await states()).toEqual([])
  })

  it('goes again when the district was put back from a backup: changes, forms and pictures, in their order', async () => {
    const own = desk()
    await keepCell('c1')
    await own.saveEntry(entry('e1'))
    await hand.store.putFile(
      { hash: 'h', state: 'waiting', bytes: 3, mediaType: 'image/jpeg', upTo: 0, at: Date.now() },
      Uint8Array.from([1, 2, 3]),
    )
    await applyEvents(
      hand.store,
      [
        {
          kind: 'entry',
          at: '2026-11-01T00:00:00Z',
          unit: 'elm',
          id: 'of another',
          case: 'c9',
          register: 'r',
          edition: 1,
          form: 'f',
          answers: {},
          happenedOn: '2026-10-30',
          corrects: null,
          parent: null,
        },
      ],
      '0.0.0.1',
    )
    await sync()
    await keepCell('c2')
    await sync()
    const pieces = hand.call.mock.calls.filter(([name]) => name.startsWith('PUT')).length
    standing = { incarnation: 2, backedUpTo: null }
    await keepCell('c3')
    await sync()
    // The newest went first, and by its answer the device noticed.
    expect(sentLast()).toEqual(['e1', 'c1', 'c2'])
    expect(hand.call.mock.calls.filter(([name]) => name.startsWith('PUT')).length).toBe(pieces + 1)
    expect([own.waiting.value, await states(), await stateOf('e1')]).toEqual([
      0,
      [
        ['c1', 'confirmed'],
        ['c2', 'confirmed'],
        ['c3', 'confirmed'],
      ],
      'received',
    ])
    // What another device made is that one's to send.
    expect(await stateOf('of another')).toBe('received')
    const sent = sendings(hand.call)
    await sync()
    expect(sendings(hand.call)).toBe(sent)
  })
})

describe('nothing lost, 5: a contact', () => {
  it('that fails in any way is tried again by itself', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
    const own = desk()
    await sync()
    answer = () => {
      throw new TypeError('a mistake of ours')
    }
    await hand.store.changes.put(
      {
        id: 'c1',
        place: 'r|u',
        state: 'waiting',
        cell: 'x',
        base: 0,
        change: { kind: 'comment', id: 'c1', madeAt: '', round: 'r', unit: 'u', cell: 'x', text: 'so' },
      },
      'id',
    )
    await expect(sync()).rejects.toThrow('a mistake of ours')
    answer = (_name, given) => received(given)
    const before = sendings(hand.call)
    await vi.advanceTimersByTimeAsync(5 * 60_000)
    await vi.waitFor(() => expect(sendings(hand.call)).toBeGreaterThan(before))
    await sync()
    expect(own.waiting.value).toBe(0)
    vi.useRealTimers()
  })

  it('stores texts as they can be stored: composed, and without halves of characters', async () => {
    const own = desk()
    await own.saveEntry({ ...entry('e1'), answers: { name: { kind: 'value', value: 'Re\u0301mi\ud83d\0' } } })
    expect((await hand.store.entries.get('id', 'e1'))!.answers).toEqual({
      name: { kind: 'value', value: 'Rémi' },
    })
  })
})

describe('what comes', () => {
  const event = (id: string, at = '2026-11-01T00:00:00Z'): DeskEvent => ({
    kind: 'entry',
    at,
    unit: 'elm',
    id,
    case: 'c1',
    register: 'r',
    edition: 1,
    form: 'f',
    answers: {},
    happenedOn: '2026-10-30',
    corrects: null,
    parent: null,
  })

  it('marks what this device made as received, and brings what others made, once', async () => {
    await hand.store.entries.put({ ...entry('e1'), madeAt: '2026-10-30T08:00:00Z', state: 'waiting' }, 'id')
    for (let times = 0; times < 2; times++)
      await applyEvents(hand.store, [event('e1'), event('e2')], '0.0.0.2')
    expect(
      (await hand.store.entries.all()).map(({ id, state, madeAt }) => [id, state, madeAt.slice(0, 10)]),
    ).toEqual([
      ['e1', 'received', '2026-10-30'],
      ['e2', 'received', '2026-10-30'],
    ])
    expect((await hand.store.serverCache.get('key', 'cursor'))!.answer).toBe('0.0.0.2')
  })

  it('says how cases are now, and takes away those that another facility has alone; what waits here stays', async () => {
    const about = (of: string, isHere: boolean): DeskEvent => ({
      ...{ kind: 'case', at: '2026-11-05T12:00:00Z', unit: 'oak', case: of, moves: [] },
      ...{ closed: { on: '2026-11-04', outcome: 'lost' }, mergedInto: null, isHere },
    })
    await hand.store.entries.put(
      { ...entry('w1'), case: 'c2', madeAt: '2026-10-30T08:00:00Z', state: 'waiting' },
      'id',
    )
    const gone = { ...event('e9'), case: 'c2' } as DeskEvent
    await applyEvents(hand.store, [event('e1'), gone, about('c1', true), about('c2', true)], '0.0.0.9.1')
    expect((await hand.store.lives.all()).map(one => one.case)).toEqual(['c1', 'c2'])
    await applyEvents(hand.store, [about('c2', false)], '0.0.0.9.2')
    expect(await hand.store.lives.all()).toMatchObject([
      { case: 'c1', unit: 'oak', closed: { outcome: 'lost' } },
    ])
    expect((await hand.store.entries.all()).map(({ id }) => id).sort()).toEqual(['e1', 'w1'])
  })

  it('is forgotten when the person sees something else from now on, and asked for anew; what was made here stays', async () => {
    const received = (view: string, events: DeskEvent[]) => ({
      ...{
        at: '2026-11-05T12:00:00Z',
        cursor: '0.0.0.9.1',
        more: false,
        events,
        definitions: 'd',
        settings: {},
        view,
      },
      ...{ incarnation: 1, backedUpTo: null },
    })
    const asked: unknown[] = []
    let now = received('ward', [event('e2'), event('mine')])
    hand.call.mockImplementation((name: string, given: unknown) => {
      if (name !== 'GET /api/desk/receive') return Promise.resolve({})
      asked.push((given as { query: { since?: string } }).query.since)
      return Promise.resolve(now)
    })
    const result = { at: 0, sent: 0, files: 0, refused: 0, received: 0, ended: 'done' as const, acted: false }
    const receive = () => receiveNews(hand.store, result)
    await hand.store.entries.put({ ...entry('mine'), madeAt: '', state: 'waiting', own: true }, 'id')
    await hand.store.serverCache.put({ key: 'report|r|u', answer: 'a report' }, 'key')
    await receive()
    await receive()
    expect([asked, await hand.store.serverCache.get('key', 'report|r|u')]).toMatchObject([
      [undefined, '0.0.0.9.1'],
      { answer: 'a report' },
    ])
    now = received('other ward', [event('e3')])
    await receive()
    expect(asked.slice(2)).toEqual(['0.0.0.9.1', undefined])
    expect((await hand.store.entries.all()).map(({ id }) => id).sort()).toEqual(['e3', 'mine'])
    expect(await hand.store.serverCache.get('key', 'report|r|u')).toBeUndefined()
    hand = await deskAtHand(() => Promise.resolve())
  })

  it('by file says what became of each change; what is unknown here is passed over', async () => {
    await hand.store.entries.put({ ...entry('e1'), madeAt: '', state: 'waiting' }, 'id')
    await noteOutcomes(
      hand.store,
      [
        { id: 'e1', outcome: 'received' },
        { id: 'gone', outcome: 'received' },
      ],
      '2026-11-05T12:00:00Z',
    )
    expect(await stateOf('e1')).toBe('received')
  })

  it('is cleared after the days that the device keeps it, but never while something of it waits', async () => {
    await applyEvents(
      hand.store,
      [
        event('old', '2026-01-01T00:00:00Z'),
        { ...event('other', '2026-01-01T00:00:00Z'), case: 'c2' } as DeskEvent,
        { ...event('new', new Date().toISOString()), case: 'c3' } as DeskEvent,
      ],
      '0.0.0.3',
    )
    await hand.store.entries.put({ ...entry('mine', 'c2'), madeAt: '', state: 'waiting' }, 'id')
    await tidyStore(hand.store, 30)
    expect((await hand.store.entries.all()).map(({ id }) => id)).toEqual(['other', 'new', 'mine'])
  })

  it('is kept for longer while its case still needs a visit or a result', async () => {
    const form = (role: FormRole, code: string, part: FormPart) => ({
      role,
      many: true,
      eventDate: 'seen_on',
      form: { code, name: {}, parts: [part] },
    })
    const register: CaseRegister = {
      code: 'fever',
      name: {},
      subject: 'person',
      line: [],
      identity: { identifiers: [] },
      countingDate: 'seen_on',
      rules: [],
      follow: { nextVisit: 'next_visit_on', result: 'result' },
      forms: [
        form('registration', 'begun', { kind: 'text', code: 'called', label: {} }),
        form('followUp', 'visit', { kind: 'date', code: 'next_visit_on', label: {} }),
        form('result', 'sent', { kind: 'text', code: 'result', label: {} }),
      ],
    }
    await hand.store.serverCache.put(
      { key: 'registers', answer: [{ register: register.code, edition: 1, definition: register }] },
      'key',
    )
    const of = (id: string, form: string, answers: Answers) =>
      ({
        ...event(id, '2026-01-01T00:00:00Z'),
        case: id.slice(0, 2),
        register: register.code,
        form,
        answers,
      }) as DeskEvent
    await applyEvents(
      hand.store,
      [
        of('c1-begun', 'begun', {}),
        of('c1-visit', 'visit', { next_visit_on: { kind: 'value', value: '2026-02-01' } }),
        of('c2-begun', 'begun', {}),
        of('c3-sent', 'sent', {}),
        of('c4-result', 'sent', { result: { kind: 'value', value: 'negative' } }),
      ],
      '0.0.0.4',
    )
    await tidyStore(hand.store, 30)
    expect((await hand.store.entries.all()).map(({ id }) => id)).toEqual(['c1-begun', 'c1-visit', 'c3-sent'])
  })

  it('is what this device has where the line is dead, and a refusal where it is one', async () => {
    await cachedFetch('k', () => Promise.resolve(1))
    expect(await cachedFetch('k', () => Promise.reject(new ApiProblem(0, 'unreachable', '')))).toBe(1)
    await expect(
      cachedFetch('k', () => Promise.reject(new ApiProblem(403, 'outside-branch', ''))),
    ).rejects.toMatchObject({ status: 403 })
    await expect(
      cachedFetch('other', () => Promise.reject(new ApiProblem(0, 'unreachable', ''))),
    ).rejects.toMatchObject({ unreachable: true })
  })
})
