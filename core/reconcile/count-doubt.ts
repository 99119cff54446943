import { print } from '../expression/print'
import { parse } from '../expression/parse'
import { scan } from '../expression/scan'
import type { Side, Term } from '../expression/explain'
import { numberOf, type CellContent } from '../report/cell'
import type { Cell, CaseCount } from '../report/edition'
import type { Doubt } from '../rule/find-doubts'
import type { Strength } from '../rule/definition'
import { reportedBy } from './reconcile'

export const countKey = (count: Pick<CaseCount, 'code'>): string => `cases:${count.code}`

/** A count as expressions print it, by which it is named. */
export function countText({ register, where }: Pick<CaseCount, 'register' | 'where'>): string {
  const text = where === undefined ? `count(${register})` : `count(${register} where ${where})`
  const { tokens, problems } = scan(text)
  const parsed = parse(tokens, problems)
  return parsed.problems.length ? text : print(parsed.tree)
}

/**
 * The doubt that some cells of a report and the register say different numbers.
 * @param contents of the cells of the count, by cell
 * @param registered how many cases count
 * @param cellOf the cells of the edition
 * @returns null where they agree, or a cell is no number
 * @example the report says 7, the register 9: `explanation` is 7 < 9, by 2
 */
export function countDoubt(
  count: CaseCount,
  strength: Strength,
  contents: (cell: string) => CellContent,
  registered: number,
  cellOf: (cell: string) => Pick<Cell, 'item' | 'bands'> | undefined,
): Doubt | null {
  const reported = reportedBy(count.cells.map(contents))
  if (reported === null || reported === registered) return null
  const terms = count.cells.map((cell): Term => ({
    item: cellOf(cell)?.item.code ?? cell,
    bands: (cellOf(cell)?.bands ?? []).map(({ code }) => code),
    back: 0,
    value: numberOf(contents(cell)),
  }))
  const left: Side = { value: reported, parts: terms.flatMap((term, at) => (at ? [' + ', term] : [term])) }
  const term: Term = { item: count.register, count: countText(count), bands: [], back: 0, value: registered }
  return {
    key: countKey(count),
    source: 'cases',
    code: count.code,
    band: null,
    strength,
    cells: [...count.cells],
    explanation: {
      left,
      relation: reported > registered ? '>' : '<',
      right: { value: registered, parts: [term] },
      by: Math.abs(reported - registered),
    },
  }
}
