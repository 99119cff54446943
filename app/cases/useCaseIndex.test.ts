import 'fake-indexeddb/auto'
import { afterAll, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest'
import { foldCases, type CaseFile } from '#core/cases/fold'
import type { CaseAct } from '#core/cases/life'
import { newDataKey } from '#core/protect/seal'
import { giveGlobals } from '../../tests/support/nuxt-globals'
import { casePlace, WorkStore, type StoredEntry, type StoredLife } from '../device/useDeskStore'
import { CaseIndex, type CaseMaker } from './useCaseIndex'

/** What is made of a case here: what it says, and what it was made of. */
interface Made {
  says: string
  file: CaseFile
  entries: StoredEntry[]
}
let store: WorkStore
let index: CaseIndex<Made>
let people = 0
/** How often a case was made. */
let made: string[] = []

const entry = (id: string, of: string, day: number): StoredEntry =>
  ({
    id,
    case: of,
    register: 'r',
    edition: 1,
    form: 'f',
    unit: 'u',
    answers: {},
    madeAt: `2026-11-0${day}T08:00:00Z`,
    state: 'waiting',
    own: 1,
  }) as unknown as StoredEntry
const maker = (key = 'en'): CaseMaker<Made> => ({
  key,
  entryOf: ({ id, case: of, form, answers, madeAt, register }) =>
    register === 'r'
      ? { id, case: of, form, answers, happenedAt: Date.parse(madeAt), receivedAt: Date.parse(madeAt) }
      : null,
  make: (file, entries, life) => {
    made.push(file.case)
    const says = [key, file.case, file.entries.length, ...(life?.closed ? [life.closed.outcome] : [])]
    return { says: says.join(' '), file, entries }
  },
})
const cases = async (key?: string, isWaitedFor = true) => {
  made = []
  return (await index.update(maker(key), isWaitedFor)).map(one => one.says)
}

beforeAll(() => giveGlobals({ window: Object.assign(globalThis, { name: '' }) }))
afterAll(() => vi.unstubAllGlobals())
beforeEach(async () => {
  store = new WorkStore(`person ${++people}`, await newDataKey())
  index = new CaseIndex(store)
  for (const [id, of, day] of [
    ['a', 'first', 1],
    ['b', 'second', 3],
    ['c', 'first', 2],
  ] as const)
    await store.entries.put(entry(id, of, day), 'id')
})

describe('the cases of a device', () => {
  it('are folded from their entries, the latest event first, and prepared in the background alike', async () => {
    expect(await cases()).toEqual(['en second 1', 'en first 2'])
    index = new CaseIndex(store)
    expect(await cases('en', false)).toEqual(['en second 1', 'en first 2'])
  })

  it('are made again only when something of them changed', async () => {
    await cases()
    const same = await index.update(maker(), true)
    expect(await cases()).toEqual(['en second 1', 'en first 2'])
    expect(made).toEqual([])
    expect(await index.update(maker(), true)).toBe(same)
    await store.entries.put(entry('d', 'first', 4), 'id')
    expect(await cases()).toEqual(['en first 3', 'en second 1'])
    expect(made).toEqual(['first'])
    await store.entries.set('id', 'b', { state: 'received', receivedAt: '2026-11-05T08:00:00Z' })
    await cases()
    expect(made).toEqual(['second'])
  })

  it('follow what is refused, with its reason, and what is removed', async () => {
    await cases()
    await store.entries.put(
      { ...entry('b', 'second', 3), state: 'refused', why: 'entry-form' } as StoredEntry,
      'id',
    )
    const [second] = await index.update(maker(), true)
    expect(second!.entries).toMatchObject([{ state: 'refused', why: 'entry-form' }])
    await store.entries.remove('id', ['a', 'b'])
    expect(await cases()).toEqual(['en first 1'])
  })

  const life = (of: string, more: Partial<StoredLife> = {}): StoredLife => ({
    ...{ case: of, at: '2026-11-06T08:00:00Z', unit: 'u', moves: [], closed: null, mergedInto: null },
    ...more,
  })

  it('are one where the district found that they are, and two when it takes that back', async () => {
    await cases()
    await store.lives.put(life('first', { mergedInto: 'second' }), 'case')
    expect(await cases()).toEqual(['en second 3'])
    await store.entries.put(entry('e', 'first', 5), 'id')
    expect(await cases()).toEqual(['en second 4'])
    await store.lives.put(life('first', { at: '2026-11-07T08:00:00Z' }), 'case')
    expect(await cases()).toEqual(['en first 3', 'en second 1'])
    expect(made.sort()).toEqual(['first', 'second'])
  })

  it('are closed as the district said, and as was done here since; what it refuses is not done', async () => {
    await store.lives.put(life('first', { closed: { on: '2026-11-05', outcome: 'lost' } }), 'case')
    expect(await cases()).toEqual(['en second 1', 'en first 2 lost'])
    const act = (id: string, of: string, given: CaseAct) =>
      store.changes.put(
        {
          id,
          place: casePlace(of),
          state: 'waiting',
          change: { kind: 'caseAct', id, madeAt: '2026-11-08T08:00:00Z', case: of, unit: 'u', act: given },
        },
        'id',
      )
    await act('x1', 'first', { act: 'reopen', text: 'Seen again.' })
    await act('x2', 'second', { act: 'close', on: '2026-11-04', outcome: 'died' })
    expect(await cases()).toEqual(['en second 1 died', 'en first 2'])
    await store.changes.set('id', 'x1', { state: 'needsYou' })
    expect(await cases()).toEqual(['en second 1 died', 'en first 2 lost'])
    expect(made).toEqual(['first'])
  })

  it('are made anew in another language, and those of an unknown register are left out', async () => {
    await store.entries.put({ ...entry('x', 'other', 5), register: 'unknown' } as StoredEntry, 'id')
    await cases()
    expect(await cases('fr')).toEqual(['fr second 1', 'fr first 2'])
  })

  it('are all there after the reading of entries or the making of a case broke off', async () => {
    await cases()
    await store.entries.put(entry('d', 'first', 4), 'id')
    const broken = vi.spyOn(store.entries, 'opened').mockRejectedValueOnce(new Error('torn'))
    await expect(index.update(maker(), true)).rejects.toThrow('torn')
    broken.mockRestore()
    await store.entries.remove('id', ['b'])
    expect(await cases()).toEqual(['en first 3'])
    await store.entries.put(entry('e', 'first', 5), 'id')
    const torn: CaseMaker<Made> = {
      ...maker(),
      make: () => {
        throw new Error('not made')
      },
    }
    await expect(index.update(torn, true)).rejects.toThrow('not made')
    expect(await cases()).toEqual(['en first 4'])
  })

  it('are the same whether they are asked for once or many times at once, while entries come', async () => {
    const asked = [cases(), cases(), index.update(maker(), false)]
    for (let more = 0; more < 60; more++)
      await store.entries.put(entry(`m${more}`, `case ${more % 7}`, 6), 'id')
    await Promise.all(asked)
    await index.update(maker(), true)
    const found = await index.update(maker(), true)
    const all = await store.entries.all()
    const fresh = foldCases(all.flatMap(one => maker().entryOf(one) ?? []))
    expect(found.map(({ file }) => [file.case, file.entries.length]).sort()).toEqual(
      fresh.map(file => [file.case, file.entries.length]).sort(),
    )
  })
})
