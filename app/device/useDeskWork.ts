import type { DeskChange, DeskWork, EntryMade } from '#core/contract/desk'
import type { StoredEntry, WaitingChange } from './useDeskStore'

/** Counters of one sync. */
export interface SyncResult {
  at: number
  sent: number
  files: number
  refused: number
  received: number
  ended: 'done' | 'broken'
  /** Something else than values went: what is due, or asked, is another now. */ acted: boolean
}

/** The key of a report's, or a question's, changes on this device. */
export const reportPlace = (round: string, unit: string): string => `${round}|${unit}`
export const questionPlace = (discrepancy: string): string => `question|${discrepancy}`

/**
 * The address of a report, or of its sending, on the desk. The unit is named where it is not the person's
 * own. @param cell where the cursor goes.
 */
export function reportLink(
  page: 'report' | 'send',
  round: string,
  unit: string,
  section?: string,
  cell?: string,
): string {
  const own = useSession().view?.branch?.unit.code
  const query = new URLSearchParams({
    ...(unit !== own && { unit }),
    ...(section && { section }),
    ...(cell && { cell }),
  }).toString()
  return `/desk/${page}/${round}${query && `?${query}`}`
}

export const reportKey = (round: string, unit: string): string => `report|${round}|${unit}`
export const conversationKey = (discrepancy: string): string => `conversation|${discrepancy}`

/**
 * Was a change rejected because its round is closed? Such a change stays on this device and is sent again
 * when the facility is let in.
 */
const CLOSED_CODES: ReadonlySet<string | undefined> = new Set(['round-closed', 'after-closing'])
export const isClosedCode = (code: string | undefined): boolean => CLOSED_CODES.has(code)

/** The parts of a facility's work as entries of the server cache. */
export const cacheEntriesOf = ({
  due,
  questions,
  reports,
  conversations,
  caseConversations,
}: Omit<DeskWork, 'caseConversations'> & Partial<DeskWork>): [key: string, answer: unknown][] => [
  ['due', due],
  ['questions', questions],
  ...reports.map((file): [string, unknown] => [reportKey(file.round.id, file.unit.code), file]),
  ...conversations.map((file): [string, unknown] => [conversationKey(file.line.id), file]),
  // A reply file of an earlier version names none.
  ['caseConversations', caseConversations ?? []],
]

export const changeOfEntry = ({
  id,
  madeAt,
  case: of,
  register,
  edition,
  form,
  unit,
  answers,
  corrects,
  parent,
  explanations,
}: StoredEntry): EntryMade => ({
  kind: 'entry',
  id,
  madeAt,
  case: of,
  register,
  edition,
  form,
  unit,
  answers,
  ...(corrects && { corrects }),
  ...(parent && { parent }),
  ...(explanations && { explanations }),
})

/** A change as it is sent: with the version, or the change, that it was based on. */
export const changeAsSent = ({ change, base, after, settles }: WaitingChange): DeskChange =>
  change.kind === 'cell'
    ? { ...change, base: base!, ...(after && { after }), ...(settles?.length && { settles }) }
    : change
