import 'fake-indexeddb/auto'
import Dexie from 'dexie'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { newDataKey, seal } from '#core/protect/seal'
import { giveGlobals } from '../../tests/support/nuxt-globals'
import { WorkStore } from './useDeskStore'

describe('the storage of a device from before an update', () => {
  beforeAll(() => giveGlobals({ window: Object.assign(globalThis, { name: '' }) }))
  afterAll(() => vi.unstubAllGlobals())

  it('keeps what was cached and what waits: a phone is updated while it is out of reach', async () => {
    const key = await newDataKey()
    const before = new Dexie('lantern-work-nell')
    // The tables as the first version had them.
    before.version(1).stores({
      told: 'key',
      changes: '++seq, &id, place, state, after, [place+cell]',
      entries: '++seq, &id, case, state',
      drafts: 'place',
      files: 'hash, state',
    })
    await before.table('told').put({ key: 'due', sealed: await seal(key, { answer: { now: ['a report'] } }) })
    await before.table('changes').add({
      id: 'a',
      place: 'r|u',
      state: 'waiting',
      cell: 'tested',
      base: 2,
      sealed: await seal(key, { change: { kind: 'cell', id: 'a' } }),
    })
    before.close()

    const store = new WorkStore('nell', key)
    expect(await store.serverCache.get('key', 'due')).toEqual({ key: 'due', answer: { now: ['a report'] } })
    expect(await store.unsettled('r|u')).toMatchObject([{ id: 'a', base: 2, change: { kind: 'cell' } }])
    store.close()
  })
})
