/** How a district report stands. */
export type DistrictState = 'gathering' | 'ready' | 'signed' | 'amended'

/** What decides it: how many reports are in, how many discrepancies block, and how often it was signed. */
export interface DistrictStanding {
  received: number
  blocking: number
  signatures: number
}

/**
 * The one rule of how a district report stands: on the page of the report and on *Today*. Without a single
 * report there is nothing to sign, whether anything blocks or not.
 *
 * @example districtState({ received: 0, blocking: 0, signatures: 0 }) // 'gathering'
 */
export function districtState({ received, blocking, signatures }: DistrictStanding): DistrictState {
  if (signatures > 1) return 'amended'
  if (signatures === 1) return 'signed'
  return received > 0 && blocking === 0 ? 'ready' : 'gathering'
}
