import * as reference from 'simple-statistics'
import { modifiedZRanges, SUSPICIOUS_Z } from '#core/quality/modified-z-score'
import { inTurns, measurement, type Measurement } from '../measure'
import { columns } from './data'

const UNITS = 1_000
const MONTHS = 24
const FEWEST = 6
const CELLS = Array.from({ length: 60 }, (_, at) => `c${at}`)

export async function ranges(): Promise<Measurement[]> {
  const values = [...columns(CELLS, UNITS * MONTHS, 0.05, 3).values()]
  /**
   * The known values of one unit, as the library wants them. Both ways begin with the same columns, so both
   * have to find these.
   */
  const seriesOf = (column: Float64Array, unit: number) => {
    const known: number[] = []
    for (let at = unit; at < column.length; at += UNITS)
      if (!Number.isNaN(column[at]!)) known.push(column[at]!)
    return known
  }
  const ours = () => values.map(column => modifiedZRanges(column, UNITS, FEWEST))
  const theirs = () =>
    values.map(column =>
      Array.from({ length: UNITS }, (_, unit) => {
        const known = seriesOf(column, unit)
        const middle = reference.median(known)
        const reach = (SUSPICIOUS_Z * reference.medianAbsoluteDeviation(known)) / 0.6745
        return [middle - reach, middle + reach]
      }),
    )
  const expected = theirs()
  ours().forEach(({ low, high }, cell) =>
    expected[cell]!.forEach(([least, most], unit) => {
      if (Math.abs(low[unit]! - least!) > 1e-9 || Math.abs(high[unit]! - most!) > 1e-9)
        throw new Error(
          `The range of cell ${cell} at unit ${unit} is ${low[unit]} to ${high[unit]}, by simple-statistics ${least} to ${most}.`,
        )
    }),
  )
  const times = await inTurns({ ours, theirs }, 7)
  return [
    measurement(
      'ranges of 60 cells at 1,000 facilities from 24 months, modified z-score',
      times.ours,
      times.theirs,
      'simple-statistics, called for each',
      'ms',
      1 / 3,
    ),
  ]
}
