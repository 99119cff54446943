/**
 * So many cells must be other than zero in both periods before their likeness says anything, and so large a
 * share of them must be alike.
 */
export const FEWEST_CELLS = 10
export const COPIED_SHARE = 0.9

/** How much of a report is the one before, cell by cell. */
export interface Copied {
  /** Cells with a number above zero in both: zeros are alike from month to month in honest reports. */
  compared: number
  alike: number
  /** Looks copied: enough cells, nearly all alike. */
  copied: boolean
}

/**
 * Compares a report with its predecessor. Two honest months of a busy facility share few numbers (common
 * practice).
 * @param now the numbers of one report; `before` the same cells one period earlier; NaN for blank.
 */
export function lastPeriodCopied(now: ArrayLike<number>, before: ArrayLike<number>): Copied {
  let compared = 0
  let alike = 0
  for (let cell = 0; cell < now.length; cell++) {
    const [value, earlier] = [now[cell]!, before[cell] ?? NaN]
    if (!(value > 0 && earlier > 0)) continue
    compared++
    if (value === earlier) alike++
  }
  return { compared, alike, copied: compared >= FEWEST_CELLS && alike >= COPIED_SHARE * compared }
}
