import { digitHeaping } from './digit-heaping'
import { lastPeriodCopied } from './last-period-copied'

/** What the numbers of a facility's reports say of how they came about: whether they were counted. */
export interface NumberSigns {
  /**
   * How many numbers were looked at, and which share of them ends with 0 or 5; null where the last digits are as
   * even as chance makes them, and where there are too few numbers to say so.
   */
  unevenDigits: { numbers: number; roundShare: number } | null
  /** Which reports have nearly the numbers of the one before. */
  repeated: number[]
}

/**
 * Looks for signs that numbers were rounded, made up or copied. A sign is a reason to ask, and no proof.
 *
 * @param reports the numbers of each report by cell, oldest first, of periods that follow one another; null where
 *   there is no report
 * @returns `repeated` are places in that list
 * @example numberSigns([september, october]).repeated // [1], where October was copied from September
 */
export function numberSigns(reports: readonly (ReadonlyMap<string, number> | null)[]): NumberSigns {
  const counts = reports.flatMap(report => [...(report?.values() ?? [])].filter(Number.isInteger))
  const { heaped, numbers, roundShare } = digitHeaping(counts)
  const repeated = reports.flatMap((report, at) => {
    const before = reports[at - 1]
    if (!report || !before) return []
    const earlier = [...report.keys()].map(cell => before.get(cell) ?? NaN)
    return lastPeriodCopied([...report.values()], earlier).copied ? [at] : []
  })
  return { unevenDigits: heaped ? { numbers, roundShare } : null, repeated }
}
