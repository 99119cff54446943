import type { LanternSign } from '../report/state'
import { reporting, type Reporting } from './reporting'

/** What one unit did in one round. */
export interface ReportMark {
  sign: LanternSign
  received: boolean
  onTime: boolean
  /** Cells that are answered, and those that apply. */
  answered: number
  applies: number
}

/** How some units reported in some rounds: reports, and the cells of those that are in. */
export interface ReportingTotal extends Reporting {
  /** Reports that are in and in which everything that applies is answered. */
  complete: number
  /** Cells answered / cells that apply, in the reports that are in; null when none is. */
  itemCompleteness: number | null
}

const NEVER = Number.POSITIVE_INFINITY

/**
 * Completeness, timeliness and item completeness of some marks; places where nothing was expected are left out.
 * The shares are those of {@link reporting}: counts are added up, and shares are never averaged.
 *
 * @example totalOf([{ sign: 'sent', received: true, onTime: true, answered: 9, applies: 10 }, null]).completeness // 1
 */
export function totalOf(marks: readonly (ReportMark | null)[]): ReportingTotal {
  const expected = marks.filter(mark => mark !== null)
  const inDistrict = expected.filter(({ received }) => received)
  const sum = (of: (mark: ReportMark) => number) => inDistrict.reduce((all, mark) => all + of(mark), 0)
  const applies = sum(mark => mark.applies)
  return {
    // Each mark knows whether it was on time; its round's due day stands for it as 0.
    ...reporting(
      expected.map(({ received, onTime }) => ({ received, firstReceivedAt: onTime ? -1 : NEVER })),
      0,
    ),
    complete: inDistrict.filter(isComplete).length,
    itemCompleteness: applies ? sum(mark => mark.answered) / applies : null,
  }
}

/** Is everything answered that applies? */
export const isComplete = ({ received, answered, applies }: ReportMark): boolean =>
  received && answered >= applies
