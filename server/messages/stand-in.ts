import { setTimeout } from 'node:timers/promises'
import { now, nowText } from '../clock'
import { database } from '../database'
import { OutsideFault } from '../outside'
import type { MessageGateway, MessageStatus } from './gateway'

/** How the stand-in treats a number, by its last two digits. All others are delivered after a minute. */
const WAYS: Readonly<Record<string, 'refused' | 'hangs' | 'slow' | 'lost' | 'away'>> = {
  '90': 'refused',
  '91': 'hangs',
  '92': 'slow',
  '93': 'lost',
  '94': 'away',
}
const wayOf = (phone: string) => WAYS[phone.slice(-2)]

const MINUTE = 60_000
/** How long the network takes, and after how long it gives up. */
const DELIVERY_MS = { usual: MINUTE, slow: 120 * MINUTE, lost: 24 * 60 * MINUTE }
/** Longer than anybody waits for an answer. */
const FOR_EVER_MS = 24 * 60 * MINUTE

function statusOf(phone: string, takenAt: string): MessageStatus {
  const way = wayOf(phone)
  const passed = now() - Date.parse(takenAt)
  if (way === 'lost') return passed < DELIVERY_MS.lost ? 'taken' : 'notDelivered'
  return passed < (way === 'slow' ? DELIVERY_MS.slow : DELIVERY_MS.usual) ? 'taken' : 'delivered'
}

/**
 * A message gateway that sends nothing: for the demo, for tests, and for trying out. Numbers that end in 90 are
 * refused, 91 hangs, 92 is delivered after two hours, 93 never, 94 makes it fail.
 */
export const standInGateway: MessageGateway = {
  async send({ reference, phone, text }, signal) {
    const way = wayOf(phone)
    if (way === 'refused') return 'This number is not in service.'
    if (way === 'away') throw new OutsideFault('The gateway answered 503.')
    if (way === 'hangs') await setTimeout(FOR_EVER_MS, undefined, { signal, ref: false })
    const sql = await database()
    await sql.query(
      `INSERT INTO stand_in_message (reference, phone, text, taken_at) VALUES ($1, $2, $3, $4)
       ON CONFLICT (reference) DO NOTHING`,
      [reference, phone, text, nowText()],
    )
    return null
  },
  async lookUp(reference) {
    const sql = await database()
    const [message] = await sql.query<{ phone: string; takenAt: string }>(
      'SELECT phone, taken_at AS "takenAt" FROM stand_in_message WHERE reference = $1',
      [reference],
    )
    return message ? statusOf(message.phone, message.takenAt) : 'unknown'
  },
}
