import { createHash } from 'node:crypto'
import type { DeviceSettings } from '#core/contract/devices'

/** What the cards of the tests set a device to. */
export const CARD_SETTINGS: DeviceSettings = {
  language: 'en',
  textSize: 'usual',
  wifiOnly: false,
  lockMinutes: 10,
  keepDays: 30,
  may: { openReports: true, changeSent: true, deleteDrafts: true, changeSettings: false },
}

/** The smallest picture: one pixel. */
export const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==',
  'base64',
)
export const hashOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex')
