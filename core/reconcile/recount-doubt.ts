import type { Side, Term } from '../expression/explain'
import { recountFactor } from '../quality/recount-factor'
import { numberOf, type CellContent } from '../report/cell'
import type { Cell } from '../report/edition'
import type { Doubt } from '../rule/find-doubts'

/** What a supervisor counted for one cell of a report. */
export interface RecountedCell {
  cell: string
  value: number
  /** ISO 8601: the day on which it was counted, and who counted. */
  on: string
  by: string
}

export const recountKey = (item: string): string => `recount:${item}`

/**
 * The doubt that a supervisor counted another number of an item than its report says, beyond the tolerance.
 * Cells that were recounted and are numbers in the report are added up on both sides.
 *
 * @param counted what holds of the recounts, of cells of this item
 * @param contents of the report, by cell
 * @param cellOf the cells of the edition
 * @returns null within the tolerance, or where no recounted cell is a number in the report
 * @example the report says 40 and the recount 30: `explanation` is 40 > 30, by 10
 */
export function recountDoubt(
  item: string,
  counted: readonly RecountedCell[],
  contents: (cell: string) => CellContent,
  cellOf: (cell: string) => Pick<Cell, 'bands'> | undefined,
): Doubt | null {
  const compared = counted.flatMap(one => {
    const reported = numberOf(contents(one.cell))
    return reported === null ? [] : [{ ...one, reported }]
  })
  if (!compared.length) return null
  const reported = compared.reduce((sum, one) => sum + one.reported, 0)
  const recounted = compared.reduce((sum, one) => sum + one.value, 0)
  if (recountFactor(recounted, reported).verdict === 'verified') return null
  const terms = compared.map((one): Term => ({
    item,
    bands: (cellOf(one.cell)?.bands ?? []).map(({ code }) => code),
    back: 0,
    value: one.reported,
  }))
  const left: Side = { value: reported, parts: terms.flatMap((term, at) => (at ? [' + ', term] : [term])) }
  const right: Side = {
    value: recounted,
    parts: [{ item, recounted: true, bands: [], back: 0, value: recounted }],
  }
  const last = compared.reduce((newest, one) => (one.on > newest.on ? one : newest))
  return {
    key: recountKey(item),
    source: 'recount',
    code: item,
    band: null,
    strength: 'explain',
    cells: compared.map(({ cell }) => cell),
    explanation: {
      left,
      relation: reported > recounted ? '>' : '<',
      right,
      by: Math.abs(reported - recounted),
    },
    recount: {
      on: last.on,
      by: last.by,
      cells: Object.fromEntries(compared.map(({ cell, value }) => [cell, value])),
    },
  }
}
