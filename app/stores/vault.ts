import { defineStore } from 'pinia'
import type { DeskSession, DeviceSettings, Paired } from '#core/contract/devices'
import { newCarryKeys } from '#core/protect/carry-file'
import {
  isThePin,
  isWeaklyWrapped,
  unwrapKey,
  waitAfterWrongPins,
  wrapByPin,
  wrapBySecret,
} from '#core/protect/pin-key'
import { newDataKey, open, seal } from '#core/protect/seal'
import { callApi, showAs } from '~/common/useApi'
import { deviceNow } from '~/common/useClock'
import {
  deviceDatabase,
  eraseWork,
  openWork,
  shutWork,
  type StoredDevice,
  type StoredPerson,
} from '~/device/useDeskStore'

/** Opening takes milliseconds, also on a slow telephone. */
const STORAGE_PATIENCE = 6_000
type Shown = Pick<DeskSession, 'session' | 'view'>

/**
 * The people of this device and their keys. Each person's data is encrypted with a key of its own. The key is
 * wrapped by their PIN and by a recovery secret that the server returns after signing in: a PIN may be
 * forgotten.
 */
export const useVault = defineStore('vault', () => {
  const device = shallowRef<StoredDevice | null>(null)
  const people = shallowRef<StoredPerson[]>([])
  const person = shallowRef<StoredPerson | null>(null)
  /** Signed in, and about to choose a PIN. */
  const coming = shallowRef<{ key: CryptoKey; session: DeskSession } | null>(null)
  const known = ref(false)
  const isOpen = computed(() => person.value !== null)
  const base = deviceDatabase()
  let key: CryptoKey | null = null

  /**
   * Loads the device's own data, once.
   * @returns false when IndexedDB does not open (time-out). Seen with Chromium 156: when a page is left while
   *   it creates its database, every later page waits until the browser is closed.
   */
  async function load(): Promise<boolean> {
    if (known.value) return true
    const found = await Promise.race([
      base.device.get('this').then(own => ({ own: own ?? null })),
      new Promise<null>(resolve => {
        setTimeout(() => resolve(null), STORAGE_PATIENCE)
      }),
    ])
    if (!found) return false
    device.value = found.own
    people.value = await base.people.toArray()
    known.value = true
    return true
  }

  async function saveDevice(paired: Paired, keys: StoredDevice['keys']): Promise<void> {
    const settingsTries = device.value?.settingsTries
    const next: StoredDevice = {
      ...(JSON.parse(JSON.stringify(paired)) as Paired),
      id: 'this',
      ...(keys && { keys }),
      ...(settingsTries && { settingsTries }),
    }
    await base.device.put(next)
    device.value = next
  }

  /** Pairs this device by the code of a card. @throws ApiProblem */
  async function pair(code: string): Promise<void> {
    const keys = await newCarryKeys(false)
    await saveDevice(await callApi('POST /api/desk/pair', { body: { code, keys: keys.public } }), keys.own)
  }

  /** Registers this browser as a device of the clerk who is signed in. @throws ApiProblem */
  async function pairHere(): Promise<void> {
    const keys = await newCarryKeys(false)
    const { paired, session } = await callApi('POST /api/desk/here', { body: { keys: keys.public } })
    await saveDevice(paired, keys.own)
    coming.value = { key: await newDataKey(), session }
  }

  const deviceToken = () => ({ 'x-lantern-device': device.value!.token })

  /**
   * Signs in at this device; needs a network. A known person who forgot the PIN gets access to their data
   * again. A person who is at work continues.
   * @throws ApiProblem
   */
  async function signIn(userName: string, password: string, code?: string): Promise<void> {
    const session = await callApi(
      'POST /api/desk/sign-in',
      { body: { userName, password, ...(code && { code }) } },
      deviceToken(),
    )
    const here = people.value.find(({ id }) => id === session.view.person.id)
    if (here && key && person.value?.id === here.id) {
      const next = {
        ...here,
        session: await seal(key, { session: session.session, view: session.view } satisfies Shown),
      }
      await savePerson(next)
      enter(next, key, session)
      return
    }
    const own = here && (await unwrapKey(here.recovery, session.recovery))
    coming.value = { key: own || (await newDataKey()), session }
  }

  async function savePerson(next: StoredPerson): Promise<void> {
    await base.people.put(next)
    people.value = [...people.value.filter(({ id }) => id !== next.id), next]
  }

  /** Opens the desk for a person: from now on requests carry their session. */
  function enter(next: StoredPerson, own: CryptoKey, { session, view }: Shown): void {
    key = own
    person.value = next
    openWork(next.id, own)
    showAs({ ...deviceToken(), authorization: `Bearer ${session}` })
    useSession().enter(view)
  }

  /** Sets the PIN of the person who has just signed in, and opens the desk. */
  async function choosePin(pin: string): Promise<void> {
    const { key: own, session } = coming.value!
    const { id, userName, displayName } = session.view.person
    const next: StoredPerson = {
      id,
      userName,
      displayName,
      wrong: 0,
      wrongAt: 0,
      pin: await wrapByPin(own, pin),
      recovery: await wrapBySecret(own, session.recovery),
      session: await seal(own, { session: session.session, view: session.view } satisfies Shown),
    }
    await savePerson(next)
    coming.value = null
    enter(next, own, session)
  }

  /** How long the next try has to wait, in milliseconds. A clock that was set back does not shorten it. */
  const waitLeft = ({ wrong, wrongAt }: Pick<StoredPerson, 'wrong' | 'wrongAt'>): number =>
    Math.min(waitAfterWrongPins(wrong), Math.max(0, wrongAt + waitAfterWrongPins(wrong) - deviceNow()))

  /**
   * @returns whether the PIN was right. A wrong one costs a longer wait each time, and is counted before it
   *   is tried.
   */
  async function unlock(id: string, pin: string): Promise<boolean> {
    const here = people.value.find(one => one.id === id)!
    if (waitLeft(here) > 0) return false
    await savePerson({ ...here, wrong: here.wrong + 1, wrongAt: deviceNow() })
    const own = await unwrapKey(here.pin, pin)
    if (!own) return false
    const next = {
      ...here,
      wrong: 0,
      wrongAt: 0,
      ...(isWeaklyWrapped(here.pin) && { pin: await wrapByPin(own, pin) }),
    }
    await savePerson(next)
    enter(next, own, await open<Shown>(own, here.session))
    return true
  }

  /** How long the next try of the PIN for settings has to wait, in milliseconds. */
  function settingsWaitLeft(): number {
    const { wrong, wrongAt } = device.value?.settingsTries ?? { wrong: 0, wrongAt: 0 }
    return waitLeft({ wrong, wrongAt })
  }

  /** Tries the administrator's PIN for locked settings. Wrong ones wait as those of a person do. */
  async function opensSettings(pin: string): Promise<boolean> {
    const check = device.value!.settings.settingsPin
    if (!check || settingsWaitLeft() > 0) return false
    const tries = device.value!.settingsTries
    await saveSettingsTries({ wrong: (tries?.wrong ?? 0) + 1, wrongAt: deviceNow() })
    const isRight = await isThePin(check, pin)
    if (isRight) await saveSettingsTries({ wrong: 0, wrongAt: 0 })
    return isRight
  }

  async function saveSettingsTries(settingsTries: NonNullable<StoredDevice['settingsTries']>): Promise<void> {
    const next = { ...toRaw(device.value!), settingsTries }
    await base.device.put(next)
    device.value = next
  }

  function lock(): void {
    key = null
    person.value = null
    shutWork()
    showAs(null)
    useSession().leave()
  }

  /** Applies the settings that the server prescribes; settings that people chose on the device stay. */
  async function takeOrders({ may, keepDays, settingsPin }: DeviceSettings): Promise<void> {
    await saveSettings({ ...device.value!.settings, may, keepDays, ...(settingsPin && { settingsPin }) })
  }
  async function saveSettings(settings: DeviceSettings): Promise<void> {
    if (!device.value || JSON.stringify(device.value.settings) === JSON.stringify(settings)) return
    await saveDevice({ ...device.value, settings }, device.value.keys)
  }

  /** Deletes a person and their data from this device. */
  async function forget(id: string): Promise<void> {
    if (person.value?.id === id) lock()
    await eraseWork(id)
    await base.people.delete(id)
    people.value = people.value.filter(one => one.id !== id)
  }

  /** Deletes everything from this device: the server blocked it. */
  async function erase(): Promise<void> {
    lock()
    for (const { id } of people.value) await eraseWork(id)
    await base.people.clear()
    await base.device.clear()
    people.value = []
    device.value = null
  }

  return {
    device,
    people,
    person,
    coming,
    known,
    isOpen,
    load,
    pair,
    pairHere,
    signIn,
    choosePin,
    waitLeft,
    unlock,
    settingsWaitLeft,
    opensSettings,
    lock,
    takeOrders,
    saveSettings,
    forget,
    erase,
  }
})
