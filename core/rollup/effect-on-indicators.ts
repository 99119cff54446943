import { numberOf } from '../report/cell'
import type { Edition } from '../report/edition'
import type { CellMap } from '../report/table'
import { relativeChange, type Cure } from './effect'
import { indicators } from './indicator'

/** What one cure would do to a rate of the district. */
export interface IndicatorShift extends Cure {
  indicator: string
  figure: number
  cured: number
  /** |cured − figure| / figure; 1 when the figure is zero and would not stay so. */
  share: number
}

/**
 * The shifts that a doubt's cures would make in the district's indicators, largest first. A doubt that hardly moves a
 * total can move a rate a lot: three more deaths of newborns.
 * @param figures the rolled-up cells, as if they were one report; `earlier` the same of the periods before. Only cells
 *   that add up over units: those that are averaged or not rolled up move no rate by their own size.
 */
export function indicatorShifts(cures: readonly Cure[], edition: Edition, figures: CellMap, earlier: readonly CellMap[] = []): IndicatorShift[] {
  const before = indicators(edition, figures, earlier)
  return cures
    .flatMap((cure) => {
      const value = (numberOf(figures[cure.cell]) ?? 0) + cure.to - (cure.from ?? 0)
      const after = indicators(edition, { ...figures, [cure.cell]: { kind: 'value', value } }, earlier)
      return before.flatMap(({ code, value: figure }, at) => {
        const cured = after[at]!.value
        return figure === null || cured === null || figure === cured ? [] : [{ ...cure, indicator: code, figure, cured, share: relativeChange(figure, cured) }]
      })
    })
    .sort((one, other) => other.share - one.share)
}
