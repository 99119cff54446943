/**
 * One new content of one field: a cell of a report, an answer to a question, a filled entry as a whole. Made
 * on a device, with an identifier of its own (UUID version 7) that it keeps however often it is sent.
 */
export interface Change<Content> {
  id: string
  /** Which field of which record: `report/monthly_summary~2026-10/tern_row/deliveries.u20`. */
  field: string
  /** The known version of the field when the change was made; 0 for one never answered. */
  base: number
  /**
   * The change of this device that it was made on, when the district had not confirmed that one yet. A number
   * alone would not do: somebody else's change may have taken the number that was hoped for.
   */
  after?: string
  content: Content
}

/** A field as the district has it. */
export interface Field<Content> {
  content: Content
  /** Counts its changes. */
  version: number
  /** The change that put the content there. */
  last: string
}

/**
 * What became of a change. Everything but `early` says that the district has it, and the device may drop it.
 */
export type Outcome =
  /** Stands in the field now. */
  | 'received'
  /** Sent a second time, or equal to the current value: nothing was changed. */
  | 'alreadyHad'
  /** Somebody else changed the field meanwhile: both contents are kept, and a person decides. */
  | 'conflict'
  /** The change that it was made on has not come yet: to be sent again after that one. */
  | 'early'
