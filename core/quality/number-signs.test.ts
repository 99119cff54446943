import { describe, expect, it } from 'vitest'
import { numberSigns } from './number-signs'

/** Whole numbers up to 400 that look counted: made by a fixed rule, so that each run is the same. */
const counted = (seed: number, cells = 30) =>
  new Map(
    Array.from({ length: cells }, (_, at) => [`c${at}`, 20 + (((seed * 31 + at) * 7919 + 104_729) % 379)]),
  )
const months = Array.from({ length: 12 }, (_, month) => counted(month))

describe('what the numbers of reports say of how they came about', () => {
  it('is nothing where they look counted, differ from month to month, or are too few', () => {
    expect(numberSigns(months)).toEqual({ unevenDigits: null, repeated: [] })
    expect(numberSigns([])).toEqual({ unevenDigits: null, repeated: [] })
    const few = new Map([
      ['a', 50],
      ['b', 70],
    ])
    expect(numberSigns([few, few])).toEqual({ unevenDigits: null, repeated: [] })
  })

  it('is that most end with 0 or 5 where they were rounded to fives', () => {
    const rounded = months.map(
      month => new Map([...month].map(([cell, value]) => [cell, Math.round(value / 5) * 5])),
    )
    expect(numberSigns(rounded).unevenDigits).toEqual({ numbers: 360, roundShare: 1 })
  })

  it('does not take measured numbers for counts', () => {
    const measured = months.map(month => new Map([...month].map(([cell, value]) => [cell, value + 0.5])))
    expect(numberSigns(measured).unevenDigits).toBeNull()
  })

  it('is that a report repeats the one before it: not one of two months earlier, nor zeros', () => {
    const [one, two, three] = months
    const nearly = new Map([...two!].map(([cell, value], at) => [cell, at ? value : value + 1]))
    expect(numberSigns([one!, two!, nearly, three!]).repeated).toEqual([2])
    expect(numberSigns([two!, null, two!]).repeated).toEqual([])
    const zeros = new Map(Array.from({ length: 30 }, (_, at) => [`c${at}`, 0]))
    expect(numberSigns([zeros, zeros]).repeated).toEqual([])
    // Cells that the report before did not have say nothing.
    expect(numberSigns([new Map(), two!]).repeated).toEqual([])
  })
})
