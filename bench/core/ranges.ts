import * as reference from 'simple-statistics'
import { robustScale } from '#core/quality/robust-scale'
import { inTurns, measurement, type Measurement } from '../measure'
import { columns } from './data'

const UNITS = 1_000
const MONTHS = 24
/** As the item's setting usually is. */
const SUSPICIOUS_Z = 3.5
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
  const ours = () =>
    values.map(column =>
      Array.from({ length: UNITS }, (_, unit) => {
        const { median, scale } = robustScale(seriesOf(column, unit))
        return [median - SUSPICIOUS_Z * scale, median + SUSPICIOUS_Z * scale]
      }),
    )
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
  ours().forEach((ranges, cell) =>
    ranges.forEach(([low, high], unit) => {
      const [least, most] = expected[cell]![unit]!
      if (Math.abs(low! - least!) > 1e-9 || Math.abs(high! - most!) > 1e-9)
        throw new Error(
          `The range of cell ${cell} at unit ${unit} is ${low} to ${high}, by simple-statistics ${least} to ${most}.`,
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
