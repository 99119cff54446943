import { nearOne } from './consistency'

/**
 * A report is verified when the recount is within a tenth of it: WHO data quality review toolkit 2017 (from
 * memory).
 */
export const VERIFIED_WITHIN = 0.1

export const RECOUNT_VERDICTS = ['verified', 'overReported', 'underReported', 'unknown'] as const
export type RecountVerdict = (typeof RECOUNT_VERDICTS)[number]

/** A supervisor's own count held against what was reported. */
export interface RecountFactor {
  /**
   * Recounted / reported; 1 when both are zero, Infinity when only the report is, NaN when either is unknown.
   */
  factor: number
  verdict: RecountVerdict
}

/** The verification factor of one or more cells: the recounted over the reported, each added up first. */
export function recountFactor(recounted: number, reported: number): RecountFactor {
  const factor = recounted === 0 && reported === 0 ? 1 : recounted / reported
  if (Number.isNaN(factor)) return { factor, verdict: 'unknown' }
  return {
    factor,
    verdict: nearOne(factor, VERIFIED_WITHIN) ? 'verified' : factor < 1 ? 'overReported' : 'underReported',
  }
}
