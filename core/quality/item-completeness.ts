import { isAnswered } from '../report/cell'
import type { CellMap } from '../report/table'

/** How much of a report is answered. Cells of services that are not offered do not apply. */
export interface ItemCompleteness {
  answered: number
  applies: number
}

/**
 * Item completeness: cells answered (not blank) / cells that apply. *Not known* is an answer; *not offered
 * here* takes the cell out of both counts.
 */
export function itemCompleteness(cellKeys: readonly string[], report: CellMap): ItemCompleteness {
  const applying = cellKeys.filter(key => report[key]?.kind !== 'notOffered')
  return { answered: applying.filter(key => isAnswered(report[key])).length, applies: applying.length }
}
