import { createHash } from 'node:crypto'
import { v7 as uuid } from 'uuid'
import type { EntryMade } from '#core/contract/desk'
import type { DeviceSettings } from '#core/contract/devices'
import type { PaperReport } from '#core/contract/paper-report'

/** What the cards of the tests set a device to. */
export const CARD_SETTINGS: DeviceSettings = {
  language: 'en',
  textSize: 'usual',
  wifiOnly: false,
  lockMinutes: 10,
  keepDays: 30,
  may: { openReports: true, changeSent: true, deleteDrafts: true, changeSettings: false },
}

/** What they set a device to on which everything is allowed, and which locks late. */
export const OPEN_SETTINGS: DeviceSettings = {
  ...CARD_SETTINGS,
  lockMinutes: 60,
  keepDays: 90,
  may: { ...CARD_SETTINGS.may, changeSettings: true },
}

/** The smallest picture: one pixel. */
export const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==',
  'base64',
)
export const hashOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex')

/** A filled form of a new case, as a device of a unit sends it. */
export const contactEntry = (unit: string, name = 'Made up', madeAt = '2026-11-08T10:00:00Z'): EntryMade => ({
  kind: 'entry',
  id: uuid(),
  madeAt,
  case: uuid(),
  register: 'measles_contacts',
  edition: 1,
  form: 'contact',
  unit,
  answers: { contact_name: { kind: 'value', value: name } },
})

/** A dataset with items of every kind. */
export { EQUIPMENT } from '../../demo/quarterly/edition'

/** A report on paper without any value. */
export const paperReport = (more: Partial<PaperReport> = {}): PaperReport => ({
  id: uuid(),
  paperOn: '2026-11-02',
  filledBy: 'Sister Alda',
  cells: [],
  explanations: {},
  ...more,
})
