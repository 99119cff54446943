/** The address of a facility's report at the office. A unit's code may hold what an address may not. */
export const facilityLink = (round: string, unit: string): string =>
  `/facility/${round}/${encodeURIComponent(unit)}`

/** The address of all that is known of a facility. */
export const facilityFileLink = (unit: string): string => `/facilities/${encodeURIComponent(unit)}`

/** The address where reports of a facility are counted again. */
export const recountLink = (unit: string): string => `/gather/recount/${encodeURIComponent(unit)}`

/** The address of the bytes of a file with extracts. */
export const extractFileLink = (id: string): string => `/api/extract-files/${id}/content`
