import { Type, type Static } from '@sinclair/typebox'
import type { Edition } from '../report/edition'
import {
  Count,
  DistrictState,
  exact,
  Instant,
  oneOf,
  orNull,
  RoundRef,
  shapeOf,
  SignName,
  StateName,
  UnitRef,
  Uuid,
  Words,
} from './common'

export const Reporting = exact({
  expected: Count,
  received: Count,
  onTime: Count,
  completeness: orNull(Type.Number()),
  timeliness: orNull(Type.Number()),
})

export const BoardRow = exact({
  unit: UnitRef,
  zone: UnitRef,
  /** The kind of facility, as the installation calls it. */
  kind: Type.String(),
  state: StateName,
  sign: SignName,
  /** Signs of the last 12 rounds, oldest first, this one last; null where the unit was not expected. */
  lanterns: Type.Array(exact({ round: Type.String(), period: Type.String(), sign: orNull(SignName) })),
  receivedAt: orNull(Instant),
  daysLate: Count,
  /** Share of the cells that apply that are answered. */
  filled: Type.Number(),
  /** It was received, and everything in it that applies is answered. */
  complete: Type.Boolean(),
  /** It was entered at the office from paper. */
  onPaper: Type.Boolean(),
  mustFix: Count,
  explain: Count,
  /** Discrepancies that stop the report from being accepted. */
  blocking: Count,
  /** Changes that arrived after the round closed, and about which nobody decided. */
  late: Count,
})
export type BoardRow = Static<typeof BoardRow>

export const Board = exact({
  round: RoundRef,
  unit: UnitRef,
  rows: Type.Array(BoardRow),
  reporting: Reporting,
  signed: Type.Boolean(),
  /** Does the dataset hold cells against a register? */
  heldAgainstCases: Type.Boolean(),
})
export type Board = Static<typeof Board>

/** A report that waits for a decision, and about how many changes. */
export const LateReport = exact({ round: RoundRef, unit: UnitRef, changes: Count })

export const Today = exact({
  unit: orNull(UnitRef),
  /** In a new installation, until its first report: how many there are of what it needs. */
  start: orNull(exact({ units: Count, people: Count, datasets: Count, devices: Count })),
  /** What arrived after closing and waits for a decision, the newest rounds first. */
  late: Type.Array(LateReport),
  /** Reports for which devices gave different values, and nobody has decided. */
  conflicts: Type.Array(LateReport),
  rounds: Type.Array(
    exact({
      round: RoundRef,
      reporting: Reporting,
      overdue: Count,
      drafts: Count,
      mustFix: Count,
      explain: Count,
      answered: Count,
      toAccept: Count,
      /** Discrepancies that stop the signing, and how the district report stands. */
      blocking: Count,
      state: DistrictState,
      /** How many things changed since it was signed. */
      changedSince: Count,
    }),
  ),
  /** What this person did last, about each report and discrepancy once. */
  lastActs: Type.Array(
    exact({
      at: Instant,
      act: oneOf('accepted', 'sentBack', 'asked', 'settled', 'reopened', 'reminded'),
      unit: UnitRef,
      round: RoundRef,
      discrepancy: orNull(Uuid),
    }),
  ),
  /**
   * For the administrator of a demo: planted doubts found, others raised, and planted ones of kinds that nothing
   * looks for yet.
   */
  planted: orNull(
    exact({
      planted: Count,
      found: Count,
      others: Count,
      later: Count,
      /** People who were registered twice, those of them that were found, and other pairs that are asked about. */
      pairs: exact({ planted: Count, found: Count, others: Count }),
      /** Entries against the rules of their registers. */
      cases: exact({ planted: Count, found: Count, others: Count }),
    }),
  ),
})
export type Today = Static<typeof Today>

export const DueReport = exact({
  round: RoundRef,
  unit: UnitRef,
  state: StateName,
  sign: SignName,
  answered: Count,
  applies: Count,
  questions: Count,
  receivedAt: orNull(Instant),
})
export type DueReport = Static<typeof DueReport>

export const DueList = exact({
  /** The person's branch: a facility, or all facilities under it. */
  unit: UnitRef,
  now: Type.Array(DueReport),
  /** Of a period that is not over yet, and open already. */
  ahead: Type.Array(DueReport),
  /** Begun or sent back, and the round closed since. */
  closed: Type.Array(DueReport),
  coming: Type.Array(
    exact({ dataset: Type.String(), name: Words, period: Type.String(), opensAt: Instant, dueAt: Instant }),
  ),
  sent: Type.Array(DueReport),
})
export type DueList = Static<typeof DueList>

export const DatasetView = exact({
  edition: shapeOf<Edition>('The newest edition of the dataset'),
  publishedAt: Instant,
  expectedNow: Count,
})
export type DatasetView = Static<typeof DatasetView>
