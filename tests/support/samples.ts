import type { ExtractDefinition } from '#core/contract/extracts'
import { createHash } from 'node:crypto'
import { v7 as uuid } from 'uuid'
import type { EntryMade } from '#core/contract/desk'
import type { DeviceSettings } from '#core/contract/devices'
import type { PaperReport } from '#core/contract/paper-report'
import type { RecountNew, VisitNew } from '#core/contract/visits'

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

/** A visit to a facility, as it is planned. */
export const visitTo = (unit: string): VisitNew => ({ id: uuid(), unit, plannedFor: '2026-11-20' })

/** A recount of a report of the monthly summary. */
export const recountOf = (more: Partial<RecountNew> = {}): RecountNew => ({
  ...{ id: uuid(), countedOn: '2026-11-08', countedBy: 'Ines Marlow', onPaper: false },
  cells: [{ cell: 'days_open', value: 20 }],
  ...more,
})

/** An extract of the reports of the monthly summary. */
export const EXTRACT: ExtractDefinition = {
  ...{ of: 'monthly_summary', rows: 'report', columns: [{ key: '@unit' }, { key: 'days_open' }] },
  ...{ heads: 'short', choices: 'code', several: 'columns', reasons: false },
  ...{ filters: {}, format: 'csv', language: 'en' },
}
