import type { Cell } from '../report/edition'
import type { Cure } from './cures'
import type { Figure } from './roll-up'

/** A district figure that exists. */
export type KnownFigure = Figure & { value: number }

/** A district's figures: of each item by its code, and of each cell by its key. */
export interface DistrictFigures {
  items: ReadonlyMap<string, KnownFigure>
  cells: ReadonlyMap<string, KnownFigure>
}

/** What one cure would do to a district figure. */
export interface Shift extends Cure {
  item: string
  /** The item's district figure as it stands, and after the cure. */
  figure: number
  cured: number
  /** |cured − figure| / figure; 1 when the figure is zero and would not stay so. */
  share: number
}

/** A mean over reports after one of them changed, or after a report that had no number got one. */
function movedMean(before: KnownFigure | undefined, { from, to }: Cure): number {
  if (!before) return to
  const { value, reportsIn } = before
  return (value * reportsIn + to - (from ?? 0)) / (from === null ? reportsIn + 1 : reportsIn)
}

/** |cured − figure| / |figure|; 1 when the figure is zero and would not stay so. */
export const relativeChange = (figure: number, cured: number): number =>
  figure === 0 ? +(cured !== 0) : Math.abs(cured - figure) / Math.abs(figure)

/**
 * The shifts that a doubt's cures would make in the district's item figures, largest first. The effect of the
 * doubt is the first one's share: by it the work list is ordered. Of an item that is averaged only the mean
 * of the cured band moves, because the item's figure is the sum of its bands' means.
 * @param figures items that are not rolled up are missing.
 */
export function shifts(
  curesOfDoubt: readonly Cure[],
  cells: ReadonlyMap<string, Cell>,
  figures: DistrictFigures,
): Shift[] {
  return curesOfDoubt
    .flatMap(cure => {
      const item = cells.get(cure.cell)?.item
      const known = item && figures.items.get(item.code)
      if (!item || !known) return []
      const figure = known.value
      const ofCell = figures.cells.get(cure.cell)
      const cured =
        item.rollUp === 'mean'
          ? figure - (ofCell?.value ?? 0) + movedMean(ofCell, cure)
          : figure + cure.to - (cure.from ?? 0)
      return [{ ...cure, item: item.code, figure, cured, share: relativeChange(figure, cured) }]
    })
    .sort((one, other) => other.share - one.share)
}
