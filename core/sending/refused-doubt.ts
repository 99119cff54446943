import { sameContent, type CellContent, type CellValue } from '../report/cell'
import type { Doubt } from '../rule/find-doubts'

/** A value of a report that another system did not take. */
export interface RefusedValue {
  cell: string
  value: CellValue
  recipient: string
  /** Its name. */
  by: string
  /** When it said so, and what: an instant, a sentence. */
  at: string
  message: string
}

/**
 * The doubt that another system refused a value, as long as the report still says it. It goes by itself when the
 * value is corrected.
 *
 * @returns null where the report says something else by now
 * @example refusedDoubt({ cell: 'stock', value: 99999, … }, cells.stock)?.key // 'refused:0190…:stock'
 */
export function refusedDoubt(refused: RefusedValue, content: CellContent): Doubt | null {
  const { cell, value, recipient, by, at, message } = refused
  if (!sameContent(content, { kind: 'value', value })) return null
  return {
    key: `refused:${recipient}:${cell}`,
    source: 'refused',
    code: cell,
    band: null,
    strength: 'explain',
    cells: [cell],
    refused: { by, at, message, value },
  }
}
