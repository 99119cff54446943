import type { Period } from '#core/calendar/period'
import { periodTable } from '#core/report/period-table'
import { tableOf, type CellMap, type ColumnTable } from '#core/report/table'

/** October 2026. */
export const OCTOBER_2026: Period = { frequency: 'month', index: 24_321 }

/**
 * Reports of October 2026 with those of the months before: `earlier[0]` are September's, the same units row
 * by row; null where one sent none.
 */
export const monthTable = (
  rows: readonly (CellMap | null)[],
  earlier: readonly (readonly (CellMap | null)[])[] = [],
): ColumnTable =>
  periodTable(OCTOBER_2026, ({ index }) => {
    const back = OCTOBER_2026.index - index
    const found = back === 0 ? rows : earlier[back - 1]
    return found && tableOf(found)
  })!
