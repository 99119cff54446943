/** How a round was reported: completeness and timeliness are shares of the expected, or null when none is. */
export interface Reporting {
  expected: number
  received: number
  onTime: number
  /** Reports received / reports expected (WHO data quality review toolkit, 2017; from memory). */
  completeness: number | null
  /** Reports received on time / reports expected (the same). */
  timeliness: number | null
}

export interface Arrival {
  received: boolean
  /** Milliseconds since 1970; of the first time that the report came in. */
  firstReceivedAt: number | null
}

/** Did a report come in time: before `dueAt`, the end of the due day? */
export const isOnTime = ({ received, firstReceivedAt }: Arrival, dueAt: number): boolean =>
  received && firstReceivedAt !== null && firstReceivedAt < dueAt

/** Completeness and timeliness of one round. */
export function reporting(arrivals: readonly Arrival[], dueAt: number): Reporting {
  const expected = arrivals.length
  const received = arrivals.filter(arrival => arrival.received).length
  const onTime = arrivals.filter(arrival => isOnTime(arrival, dueAt)).length
  return sharesOf({ expected, received, onTime })
}

/** The shares of counts; null where nothing was expected. */
export function sharesOf(counts: Pick<Reporting, 'expected' | 'received' | 'onTime'>): Reporting {
  const share = (part: number) => (counts.expected ? part / counts.expected : null)
  return { ...counts, completeness: share(counts.received), timeliness: share(counts.onTime) }
}

/**
 * Several rounds, datasets or units together: the counts added up, then the shares. Shares are never
 * averaged.
 */
export function together(parts: readonly Reporting[]): Reporting {
  const sum = (count: (part: Reporting) => number) => parts.reduce((total, part) => total + count(part), 0)
  return sharesOf({
    expected: sum(part => part.expected),
    received: sum(part => part.received),
    onTime: sum(part => part.onTime),
  })
}
