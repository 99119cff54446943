import 'fake-indexeddb/auto'
import { afterAll, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest'
import { foldCases } from '#core/cases/fold'
import { newDataKey } from '#core/protect/seal'
import { giveGlobals } from '../../tests/support/nuxt-globals'
import { WorkStore, type StoredEntry } from '../device/useDeskStore'
import { CaseIndex, type CaseMaker } from './useCaseIndex'

let store: WorkStore
let index: CaseIndex<string>
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
const maker = (key = 'en'): CaseMaker<string> => ({
  key,
  entryOf: ({ id, case: of, form, answers, madeAt, register }) =>
    register === 'r'
      ? { id, case: of, form, answers, happenedAt: Date.parse(madeAt), receivedAt: Date.parse(madeAt) }
      : null,
  make: file => {
    made.push(file.case)
    return `${key} ${file.case} ${file.entries.length}`
  },
})
const cases = async (key?: string, isWaitedFor = true) => {
  made = []
  return (await index.update(maker(key), isWaitedFor)).map(one => one.made)
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

  it('are made anew in another language, and those of an unknown register are left out', async () => {
    await store.entries.put({ ...entry('x', 'other', 5), register: 'unknown' } as StoredEntry, 'id')
    await cases()
    expect(await cases('fr')).toEqual(['fr second 1', 'fr first 2'])
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
