/** The address of a facility's report at the office. A unit's code may hold what an address may not. */
export const facilityLink = (round: string, unit: string): string =>
  `/facility/${round}/${encodeURIComponent(unit)}`
