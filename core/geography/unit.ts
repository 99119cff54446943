/**
 * What was true of an organisation unit on some days. Days are day numbers (`core/calendar`); `to` is the
 * first day on which it is true no more, null while it still is. On days that no span covers the unit is
 * closed.
 */
export interface UnitSpan {
  from: number
  to: number | null
  /** Code of the unit above; null at the top. */
  parent: string | null
  name: string
  /** 1 at the top; the installation names the levels. A parent's is lower. */
  level: number
  kind: string
}

/** Degrees; a unit keeps its place on the map for all its days. */
export interface UnitPosition {
  latitude: number
  longitude: number
}

/** A unit with all that was ever true of it. Its code never changes. */
export interface UnitHistory {
  code: string
  spans: readonly UnitSpan[]
  position?: UnitPosition
}

/** A unit as it was on one day. */
export interface UnitState extends UnitSpan {
  code: string
}

export const covers = (span: Pick<UnitSpan, 'from' | 'to'>, day: number): boolean =>
  span.from <= day && (span.to === null || day < span.to)

/** Do the days [from, to) of two spans have one in common? */
export const overlap = (one: Pick<UnitSpan, 'from' | 'to'>, other: Pick<UnitSpan, 'from' | 'to'>): boolean =>
  (other.to === null || one.from < other.to) && (one.to === null || other.from < one.to)
