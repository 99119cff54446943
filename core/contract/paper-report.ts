import { Type, type Static } from '@sinclair/typebox'
import { CellContent, CellKey, Counter, DayText, exact, Instant, orNull, Sentence, Uuid } from './common'
import { Explanations } from './desk'
import { VISIBLE } from './wire'

/** Who filled a paper at the facility, as it says. */
const FilledBy = Type.String({ minLength: 2, maxLength: 100, pattern: VISIBLE })

/** A report that a facility filled on paper, as it is entered at the office: in one act. */
export const PaperReport = exact({
  /** Of this act: sent twice, it changes nothing more. */
  id: Uuid,
  /** The day on which the paper was written. */
  paperOn: DayText,
  filledBy: FilledBy,
  /** What the paper says, where it says something else than what stands there. */
  cells: Type.Array(
    exact({
      id: Uuid,
      cell: CellKey,
      /** The version of the cell that stood there while it was typed; 0 for one that was never answered. */
      base: Counter(),
      content: CellContent,
    }),
    { maxItems: 2000 },
  ),
  /** What the paper, or the facility when it was asked, says of the doubts. */
  explanations: Explanations,
  /** Why values change, where the district has the report already. */
  why: Type.Optional(Sentence),
})
export type PaperReport = Static<typeof PaperReport>

/** Who filled a report and when, on what, and what became of it. */
export const ReportStory = exact({
  /** The edition that it is filled in; null while nobody has begun it. */
  edition: orNull(Counter(1)),
  /** Who typed how many of its values, the last first. A device has a name; at the office there is none. */
  filled: Type.Array(
    exact({
      by: Type.String(),
      device: orNull(Type.String()),
      origin: Type.String(),
      cells: Counter(),
      lastAt: Instant,
    }),
  ),
  /** Its states, the last first. */
  moves: Type.Array(exact({ at: Instant, by: Type.String(), to: Type.String(), why: orNull(Type.String()) })),
  papers: Type.Array(exact({ paperOn: DayText, filledBy: Type.String(), by: Type.String(), at: Instant })),
})
export type ReportStory = Static<typeof ReportStory>
