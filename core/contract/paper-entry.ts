import type { Static } from '@sinclair/typebox'
import { DayText, exact, Uuid } from './common'
import { EntryMade } from './desk'

const { kind: _kind, madeAt: _madeAt, ...entry } = EntryMade.properties

/** A case form that a facility filled on paper, as it is entered at the office. */
export const PaperEntry = exact({
  ...entry,
  /** The day on which the paper was written. */
  paperOn: DayText,
})
export type PaperEntry = Static<typeof PaperEntry>

/** The case that it is part of. */
export const PaperTaken = exact({ case: Uuid })
