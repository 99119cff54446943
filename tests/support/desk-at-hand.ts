import Dexie from 'dexie'
import { vi } from 'vitest'
import type { DeskChange } from '#core/contract/desk'
import { newDataKey } from '#core/protect/seal'
import { openWork, shutWork } from '../../app/device/useDeskStore'
import { giveGlobals } from './nuxt-globals'
import { OPEN_SETTINGS } from './samples'

type Answers = (name: string, call: { body?: { changes: DeskChange[] } }) => Promise<unknown>

/**
 * An unlocked desk without a browser: its storage in memory, its district whoever answers. What is only asked
 * for is empty.
 */
export async function deskAtHand(district: Answers, globals: Record<string, unknown> = {}) {
  shutWork()
  await Promise.all((await Dexie.getDatabaseNames()).map(name => Dexie.delete(name)))
  const call = vi.fn((name: string, given: { body?: { changes: DeskChange[] } }): Promise<unknown> => {
    if (name === 'GET /api/desk/receive')
      return Promise.resolve({
        at: new Date().toISOString(),
        cursor: '0.0.0.0',
        more: false,
        events: [],
        definitions: '1',
        settings: OPEN_SETTINGS,
      })
    if (name === 'GET /api/desk/definitions') return Promise.resolve({ registers: [], units: { units: [] } })
    if (name === 'GET /api/desk/work')
      return Promise.resolve({
        due: { now: [], sent: [] },
        questions: { lines: [] },
        reports: [],
        conversations: [],
        leftOut: [],
      })
    return district(name, given)
  })
  const session = { signIns: 0, view: { person: { id: 'p' }, timeZone: 'UTC' } }
  const vault = {
    isOpen: true,
    person: { id: 'p' },
    device: { device: 'd', settings: OPEN_SETTINGS },
    takeOrders: () => Promise.resolve(),
    erase: vi.fn(() => Promise.resolve()),
  }
  giveGlobals({
    callApi: call,
    useSession: () => session,
    useVault: () => vault,
    navigateTo: vi.fn(),
    localStorage: { getItem: () => null, setItem: () => undefined },
    window: Object.assign(globalThis, { name: '' }),
    ...globals,
  })
  return { call, vault, store: openWork('p', await newDataKey()) }
}

/** How often changes were sent. */
export const sendings = (call: { mock: { calls: [string, ...unknown[]][] } }): number =>
  call.mock.calls.filter(([name]) => name === 'POST /api/desk/send').length
