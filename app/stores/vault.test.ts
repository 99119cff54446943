import 'fake-indexeddb/auto'
import Dexie from 'dexie'
import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { giveGlobals } from '../../tests/support/nuxt-globals'
import { OPEN_SETTINGS } from '../../tests/support/samples'
import { openWork, useDeskStore, waitingOf } from '../device/useDeskStore'
import { useVault } from './vault'

const key = { kty: 'EC' }
const PAIRED = {
  device: 'd1',
  token: 'a token',
  name: 'Elm tablet',
  unit: { code: 'elm', name: 'Elm' },
  settings: OPEN_SETTINGS,
  installation: 'Small',
  district: { sign: key, agree: key },
  now: '2026-11-05T12:00:00Z',
}
const viewOf = (person: string) => ({
  person: { id: person, userName: person, displayName: `The ${person}`, role: 'clerk' },
  branch: null,
  districts: [],
  installation: 'Small',
  timeZone: 'UTC',
  now: '2026-11-05T12:00:00Z',
})
let recovery: string
const asked: { path: string; headers: Record<string, string> }[] = []
const session = { enter: vi.fn(), leave: vi.fn(), ended: vi.fn() }

/** The district: pairs, and lets in whoever asks. */
const district = (path: string, init: { body?: string; headers: Record<string, string> }) => {
  asked.push({ path, headers: init.headers })
  const { userName } = JSON.parse(init.body ?? '{}') as { userName: string }
  const body =
    path === '/api/desk/pair'
      ? PAIRED
      : { session: `session of ${userName}`, recovery: `${recovery} of ${userName}`, view: viewOf(userName) }
  return Promise.resolve(
    new Response(JSON.stringify(body), {
      headers: { 'content-type': 'application/json', 'x-lantern-district': '1' },
    }),
  )
}

/** The same device after its page was closed and opened again. */
function openAgain() {
  setActivePinia(createPinia())
  return useVault()
}

beforeEach(async () => {
  await Promise.all(
    (await Dexie.getDatabaseNames())
      .filter(name => name.startsWith('lantern-work'))
      .map(name => Dexie.delete(name)),
  )
  asked.length = 0
  recovery = 'a secret'
  giveGlobals({
    useSession: () => session,
    fetch: district,
    window: Object.assign(globalThis, { name: '' }),
    localStorage: { getItem: () => null, setItem: () => undefined },
  })
})
afterEach(async () => {
  await openAgain().erase()
  vi.unstubAllGlobals()
})

/** A device with one person at work on it, and one thing that waits. */
async function atWork(person = 'nell', pin = '2846') {
  const vault = openAgain()
  await vault.load()
  if (!vault.device) await vault.pair('ABCD')
  await vault.signIn(person, 'a password')
  await vault.choosePin(pin)
  await useDeskStore().drafts.put({ place: 'form|x', at: 1, content: { name: 'Wenna Élan' } }, 'place')
  return vault
}
const draft = async () => (await useDeskStore().drafts.get('place', 'form|x'))?.content

describe('a device', () => {
  it('is opened by its person’s PIN after it was closed, and shows the district who they are', async () => {
    await atWork()
    const vault = openAgain()
    await vault.load()
    expect([vault.isOpen, vault.device!.name, vault.people.map(({ displayName }) => displayName)]).toEqual([
      false,
      'Elm tablet',
      ['The nell'],
    ])
    expect(await vault.unlock('nell', '2846')).toBe(true)
    expect(await draft()).toEqual({ name: 'Wenna Élan' })
    expect(session.enter).toHaveBeenLastCalledWith(viewOf('nell'))
  })

  it('keeps what it has from whoever does not know the PIN, and waits longer after each wrong one', async () => {
    const vault = await atWork()
    vault.lock()
    expect(() => useDeskStore()).toThrow('locked')
    for (const wrong of ['1111', '2222', '3333']) expect(await vault.unlock('nell', wrong)).toBe(false)
    expect(vault.waitLeft(vault.people[0]!)).toBeGreaterThan(4_000)
    // The right one does not count either while the wait is not over.
    expect(await vault.unlock('nell', '2846')).toBe(false)
    const rows = JSON.stringify(
      await new Dexie('lantern-work-nell').open().then(base => base.table('drafts').toArray()),
      (_, value: unknown) => (value instanceof Uint8Array ? new TextDecoder('latin1').decode(value) : value),
    )
    expect(rows).toContain('form|x')
    expect(rows).not.toContain('Wenna')
  })

  it('gives the work back to whoever forgot the PIN and knows the password', async () => {
    const vault = await atWork()
    vault.lock()
    await vault.signIn('nell', 'a password')
    await vault.choosePin('7153')
    expect(await draft()).toEqual({ name: 'Wenna Élan' })
    vault.lock()
    expect([await vault.unlock('nell', '2846'), await vault.unlock('nell', '7153')]).toEqual([false, true])
  })

  it('goes on where it was when the session ended in the middle of the work', async () => {
    const vault = await atWork()
    await vault.signIn('nell', 'a password')
    expect([vault.coming, vault.isOpen, await draft()]).toEqual([null, true, { name: 'Wenna Élan' }])
  })

  it('keeps two people’s work apart', async () => {
    await atWork()
    const vault = await atWork('tam', '9035')
    await useDeskStore().drafts.put({ place: 'form|x', at: 1, content: 'of Tam' }, 'place')
    vault.lock()
    expect(await vault.unlock('nell', '9035')).toBe(false)
    expect(await vault.unlock('nell', '2846')).toBe(true)
    expect(await draft()).toEqual({ name: 'Wenna Élan' })
    await vault.forget('nell')
    expect([vault.isOpen, vault.people.map(({ id }) => id)]).toEqual([false, ['tam']])
    expect(await vault.unlock('tam', '9035')).toBe(true)
    expect(await draft()).toBe('of Tam')
  })

  it('takes the district’s orders, and keeps what its people set for themselves', async () => {
    const vault = await atWork()
    await vault.saveSettings({ ...OPEN_SETTINGS, textSize: 'large', wifiOnly: true })
    await vault.takeOrders({
      ...OPEN_SETTINGS,
      keepDays: 7,
      may: { ...OPEN_SETTINGS.may, changeSent: false },
    })
    expect(vault.device!.settings).toMatchObject({
      textSize: 'large',
      wifiOnly: true,
      keepDays: 7,
      may: { changeSent: false },
    })
  })

  it('says how much waits of somebody whose work is locked', async () => {
    const vault = await atWork()
    const change = {
      kind: 'comment' as const,
      id: 'c1',
      madeAt: '',
      round: 'r',
      unit: 'u',
      cell: 'a',
      text: 'why',
    }
    await useDeskStore().changes.put({ id: 'c1', place: 'r|u', state: 'waiting', change }, 'id')
    vault.lock()
    expect([await waitingOf('nell'), await waitingOf('nobody')]).toEqual([1, 0])
  })

  it('has nothing left once it was erased', async () => {
    const vault = await atWork()
    await vault.erase()
    expect([vault.device, vault.people, await Dexie.exists('lantern-work-nell')]).toEqual([null, [], false])
    const again = openAgain()
    await again.load()
    expect(again.device).toBeNull()
  })
})

describe('a table that is sealed', () => {
  it('writes in the place of the row that has the same identifier, and keeps its order', async () => {
    await atWork()
    const { changes } = useDeskStore()
    const put = (id: string, text: string) =>
      changes.put(
        {
          id,
          place: 'p',
          state: 'waiting',
          change: { kind: 'comment', id, madeAt: '', round: 'r', unit: 'u', cell: 'a', text },
        },
        'id',
      )
    await put('one', 'first')
    await put('two', 'second')
    await put('one', 'first again')
    expect(
      (await changes.all()).map(({ id, change }) => [id, change.kind === 'comment' && change.text]),
    ).toEqual([
      ['one', 'first again'],
      ['two', 'second'],
    ])
    await changes.set('id', 'two', { state: 'needsYou' })
    expect((await changes.get('id', 'two'))!.state).toBe('needsYou')
  })

  it('does not open by another key', async () => {
    await atWork()
    await openWork(
      'nell',
      await crypto.subtle.generateKey({ name: 'AES-GCM', length: 256 }, false, ['encrypt', 'decrypt']),
    )
      .drafts.get('place', 'form|x')
      .then(
        () => {
          throw new Error('It opened.')
        },
        (error: Error) => expect(error.name).toBe('OperationError'),
      )
  })
})
