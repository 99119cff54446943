import { mean } from './mean'

/**
 * Over time a figure may move by a third before it is asked about: WHO data quality review toolkit 2017 (from
 * memory).
 */
export const CONSISTENT_WITHIN = 0.33

/** A figure against one that it should resemble. */
export interface Consistency {
  /** The one over the other; NaN when either is unknown, Infinity over zero. */
  ratio: number
  /** Is the ratio within 1 ± the tolerance? Unknown (null) when it is no number. */
  consistent: boolean | null
}

/** What floating point may add to a ratio: 133 over 100 is 0.33 from 1, not 0.33000000000000007. */
const ROUNDING = 1e-9

/** Is a ratio within 1 ± a tolerance? */
export const nearOne = (ratio: number, within: number): boolean => Math.abs(ratio - 1) <= within + ROUNDING

const held = (value: number, against: number, within: number): Consistency => {
  const ratio = value === 0 && against === 0 ? 1 : value / against
  return { ratio, consistent: Number.isNaN(ratio) ? null : nearOne(ratio, within) }
}

/** This period against the mean of the known among the three before it; unknown when none is known. */
export function againstThreeBefore(
  now: number,
  before: readonly number[],
  within = CONSISTENT_WITHIN,
): Consistency {
  const known = before.slice(0, 3).filter(value => !Number.isNaN(value))
  return held(now, known.length ? mean(known) : NaN, within)
}

/** This period against the same period of the year before. */
export const againstLastYear = (now: number, lastYear: number, within = CONSISTENT_WITHIN): Consistency =>
  held(now, lastYear, within)

/**
 * A facility's ratio of two related items against its district's ratio of the same two, each rolled up first.
 */
export const againstDistrict = (
  facility: { part: number; whole: number },
  district: { part: number; whole: number },
  within = CONSISTENT_WITHIN,
): Consistency => held(facility.part / facility.whole, district.part / district.whole, within)

/** A drop-out over this is a warning; below zero it is a doubt about the data (common practice). */
export const DROP_OUT_WARNING = 10

/**
 * Drop-out from a first to a later dose, in percent: (first − later) / first × 100 (common practice).
 * @returns NaN when nothing was begun, or when either is unknown.
 */
export function dropOut(first: number, later: number): number {
  return first === 0 ? NaN : ((first - later) / first) * 100
}

/** What a drop-out tells. */
export const judgeDropOut = (percent: number): 'fine' | 'warning' | 'doubt' | 'unknown' =>
  Number.isNaN(percent) ? 'unknown' : percent < 0 ? 'doubt' : percent > DROP_OUT_WARNING ? 'warning' : 'fine'

/**
 * Wastage of opened stock, in percent: (used − given) / used × 100 (common practice). NaN when nothing was
 * used.
 */
export const wastage = (used: number, given: number): number =>
  used === 0 ? NaN : ((used - given) / used) * 100
