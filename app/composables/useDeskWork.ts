import type { DeskChange, DeskWork, EntryMade } from '#core/contract/desk'
import type { KeptEntry, WaitingChange } from './useDeskStore'

/** What went and what came at one contact. */
export interface Contact { at: number; sent: number; files: number; refused: number; heard: number; ended: 'done' | 'broken'; /** Something else than values went: what is due, or asked, is another now. */ acted: boolean }

/** Where the changes of a report, and of a question, are found on this device. */
export const reportPlace = (round: string, unit: string): string => `${round}|${unit}`
export const questionPlace = (discrepancy: string): string => `question|${discrepancy}`

/** The address of a report, or of its sending, on the desk. The unit is named where it is not the person's own. @param cell where the cursor goes. */
export function reportLink(page: 'report' | 'send', round: string, unit: string, section?: string, cell?: string): string {
  const own = useSession().view?.branch?.unit.code
  const query = new URLSearchParams({ ...(unit !== own && { unit }), ...(section && { section }), ...(cell && { cell }) }).toString()
  return `/desk/${page}/${round}${query && `?${query}`}`
}

export const reportKey = (round: string, unit: string): string => `report|${round}|${unit}`
export const conversationKey = (discrepancy: string): string => `conversation|${discrepancy}`

/**
 * The district did not take a change because its round is closed. It stays on this device, and goes by itself when the
 * district lets the facility in.
 */
const CLOSED_CODES: ReadonlySet<string | undefined> = new Set(['round-closed', 'after-closing'])
export const isClosedCode = (code: string | undefined): boolean => CLOSED_CODES.has(code)

/** What a facility works with, piece by piece, as this device keeps it. */
export const toldWork = ({ due, questions, reports, conversations }: DeskWork): [key: string, answer: unknown][] => [
  ['due', due], ['questions', questions],
  ...reports.map((file): [string, unknown] => [reportKey(file.round.id, file.unit.code), file]),
  ...conversations.map((file): [string, unknown] => [conversationKey(file.line.id), file]),
]

export const changeOfEntry = ({ id, madeAt, case: of, register, edition, form, unit, answers, corrects, parent }: KeptEntry): EntryMade =>
  ({ kind: 'entry', id, madeAt, case: of, register, edition, form, unit, answers, ...(corrects && { corrects }), ...(parent && { parent }) })

/** A change as it goes: a value names the version, or the change, that it was made on. */
export const changeAsSent = ({ change, base, after, settles }: WaitingChange): DeskChange =>
  change.kind === 'cell' ? { ...change, base: base!, ...(after && { after }), ...(settles?.length && { settles }) } : change
