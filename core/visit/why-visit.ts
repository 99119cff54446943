import { SILENT_DAYS } from '../contract/devices'
import type { RecountVerdict } from '../quality/recount-factor'

/** Reasons to drive to a facility, in the order in which they are told. */
export const VISIT_WHYS = ['silent', 'late', 'recount', 'effect', 'doubts'] as const
export type VisitWhy = (typeof VISIT_WHYS)[number]

/** One reason with its number, and what that number is out of. */
export interface VisitReason {
  why: VisitWhy
  /** Days of silence; late reports; items whose recount differed; a share; doubts. */
  value: number
  /** Reports that were due; items that were recounted. */
  of: number | null
}

/** What is known of a facility. */
export interface VisitFigures {
  /** Since the last of its devices was heard; null when it has none. */
  silentDays: number | null
  /** Reports that fell due lately, and how many of them were not received on time. */
  due: number
  late: number
  /** Doubts that somebody must settle, and the largest relative change of a district figure among them. */
  doubts: number
  effect: number | null
  /** How the items that were recounted lately came out. */
  recounts: readonly RecountVerdict[]
}

/** From when on each of them is a reason. They are our own choice: no source gives them. */
export const VISIT_LIMITS = {
  silentDays: SILENT_DAYS,
  /** So many late reports, and at least this share of those that were due. */
  late: 3,
  lateShare: 1 / 3,
  doubts: 5,
  effect: 0.05,
} as const

/**
 * Why a visit to a facility would help, by what the data say.
 *
 * @example nine days of silence, nothing else: `[{ why: 'silent', value: 9, of: null }]`
 */
export function whyVisit({ silentDays, due, late, doubts, effect, recounts }: VisitFigures): VisitReason[] {
  const apart = recounts.filter(verdict => verdict === 'overReported' || verdict === 'underReported').length
  const reasons: (VisitReason | false)[] = [
    silentDays !== null &&
      silentDays >= VISIT_LIMITS.silentDays && { why: 'silent', value: silentDays, of: null },
    late >= VISIT_LIMITS.late &&
      late / due >= VISIT_LIMITS.lateShare && { why: 'late', value: late, of: due },
    apart > 0 && { why: 'recount', value: apart, of: recounts.length },
    effect !== null && effect >= VISIT_LIMITS.effect && { why: 'effect', value: effect, of: null },
    doubts >= VISIT_LIMITS.doubts && { why: 'doubts', value: doubts, of: null },
  ]
  return reasons.filter(reason => reason !== false)
}

/** A facility in the list of where to drive. */
export interface ToVisit {
  name: string
  reasons: readonly VisitReason[]
  effect: number | null
  /** ISO 8601: the day of the last visit; null when nobody was there. */
  lastVisit: string | null
}

/**
 * Where to drive first: to whom the most reasons point, then whose doubts could move a district figure most,
 * then where nobody was for the longest time.
 */
export function byNeed(one: ToVisit, other: ToVisit): number {
  return (
    other.reasons.length - one.reasons.length ||
    (other.effect ?? 0) - (one.effect ?? 0) ||
    (one.lastVisit ?? '').localeCompare(other.lastVisit ?? '') ||
    one.name.localeCompare(other.name)
  )
}
