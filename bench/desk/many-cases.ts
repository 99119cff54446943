import { v7 as uuid } from 'uuid'
import type { DeskSession, Paired } from '#core/contract/devices'
import type { Visitor } from '../../tests/support/browser'
import { Client } from '../../tests/support/client'
import { PASSWORD } from '../../tests/support/server'
import { TestDevice } from '../../tests/support/test-device'

/** The facility that has them. */
export const UNIT = 'lowgate'
export const CASES = 20_000
/** How many changes of them one request carries. */
const PIECE = 200
/** Names that are made up of parts: every search finds some, and none finds all. */
const FIRST = [
  'Amadou',
  'Beatrix',
  'Celestine',
  'Dorota',
  'Élise',
  'Farouk',
  'Gwendolyn',
  'Hélène',
  'Ignatius',
  'Jamila',
]
const LAST = [
  'Ashdown',
  'Brackenbury',
  'Calloway',
  'Drummond',
  'Everglade',
  'Fairweather',
  'Greenhalgh',
  'Hollingsworth',
  'Islington',
  'Jardine',
  'Kettleby',
]

/** Twenty thousand cases of one facility, that another of its devices has sent. */
export async function fillCases(address: string, code: string): Promise<void> {
  const device = await TestDevice.pair(address, `clerk.${UNIT}`, code, PIECE)
  for (let at = 0; at < CASES; at++) {
    const name = `${FIRST[at % FIRST.length]!} ${LAST[at % LAST.length]!} ${at}`
    device.add({
      kind: 'entry',
      id: uuid(),
      madeAt: '2026-11-08T10:00:00Z',
      case: uuid(),
      register: 'measles_contacts',
      edition: 1,
      form: 'contact',
      unit: UNIT,
      answers: {
        contact_name: { kind: 'value', value: name },
        met_on: { kind: 'value', value: '2026-10-20' },
      },
    })
  }
  await device.sendAll()
  const refused = [...device.outcomes.values()].filter(({ outcome }) => outcome !== 'received')
  if (refused.length)
    throw new Error(`${refused.length} cases were not received: ${JSON.stringify(refused[0])}`)
}

/**
 * The bare transfer and writing of the same entries, in the same browser: fetched page by page, and put into a
 * plain store of IndexedDB. @returns milliseconds
 */
export async function bareContact(phone: Visitor, address: string, code: string): Promise<number> {
  const { body: paired } = await new Client(address).post<Paired>('/api/desk/pair', { code })
  const shown = { 'x-lantern-device': paired.token }
  const { body: session } = await new Client(address, shown).post<DeskSession>('/api/desk/sign-in', {
    userName: `clerk.${UNIT}`,
    password: PASSWORD,
  })
  // On a busy machine it takes longer than the half minute that a driver gives a script.
  await phone.driver.manage().setTimeouts({ script: 300_000 })
  return phone.run<number>(
    `return (async headers => {
      const begun = performance.now()
      const database = await new Promise((resolve, reject) => {
        const opening = indexedDB.open('bare', 1)
        opening.onupgradeneeded = () => opening.result.createObjectStore('row', { autoIncrement: true })
        opening.onsuccess = () => resolve(opening.result)
        opening.onerror = () => reject(opening.error)
      })
      let since = '0.0.0.0'
      for (let more = true; more;) {
        const page = await (await fetch('/api/desk/receive?most=500&since=' + since, { headers })).json()
        const writing = database.transaction('row', 'readwrite')
        for (const event of page.events) writing.objectStore('row').put(event)
        await new Promise((resolve, reject) => { writing.oncomplete = resolve; writing.onerror = () => reject(writing.error) })
        since = page.cursor
        more = page.more
      }
      return performance.now() - begun
    })(arguments[0])`,
    { ...shown, authorization: `Bearer ${session.session}` },
  )
}
