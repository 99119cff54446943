import type { LanternSign } from '../report/state'
import { sharesOf, type Reporting } from './reporting'

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

/**
 * Completeness, timeliness and item completeness of some marks; places where nothing was expected are left out.
 * The shares are those of one round: counts are added up, and shares are never averaged.
 *
 * @example totalOf([{ sign: 'sent', received: true, onTime: true, answered: 9, applies: 10 }, null]).completeness // 1
 */
export function totalOf(marks: readonly (ReportMark | null)[]): ReportingTotal {
  const expected = marks.filter(mark => mark !== null)
  const inDistrict = expected.filter(({ received }) => received)
  const sum = (of: (mark: ReportMark) => number) => inDistrict.reduce((all, mark) => all + of(mark), 0)
  const applies = sum(mark => mark.applies)
  return {
    ...sharesOf({
      expected: expected.length,
      received: inDistrict.length,
      onTime: inDistrict.filter(({ onTime }) => onTime).length,
    }),
    complete: inDistrict.filter(isComplete).length,
    itemCompleteness: applies ? sum(mark => mark.answered) / applies : null,
  }
}

/** Is everything answered that applies? */
export const isComplete = ({
  received,
  answered,
  applies,
}: Pick<ReportMark, 'received' | 'answered' | 'applies'>): boolean => received && answered >= applies
