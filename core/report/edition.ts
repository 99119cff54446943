import type { ValueType } from '../expression/vocabulary'
import type { RuleDefinition } from '../rule/definition'
import type { Timing } from '../calendar/deadline'
import type { Frequency } from '../calendar/period'
import type { CellNumber } from './cell'

/** One text in each language of the installation: `{ en: 'Deliveries', fr: 'Accouchements' }`. */
export type Words = Record<string, string>

/** The text in a language, else in English, else any that there is. */
export const wordsIn = (words: Words, language: string): string =>
  words[language] ?? words.en ?? Object.values(words)[0] ?? ''

export interface Band {
  code: string
  name: Words
}

/** One way of splitting an item: age, sex, vaccine. */
export interface Axis {
  code: string
  name: Words
  bands: Band[]
}

/** How an item's cells are put together over units and over time. */
export type RollUp = 'sum' | 'mean' | 'last' | 'none'

/** How the expected range of an item's cells is found, and what a value outside it raises. */
export type RangeMethod =
  /** Mean ± so many standard deviations. */
  (
    | { method: 'meanSd'; k: number }
    /** Median ± so many modified z-scores: for histories with wild values in them. */
    | { method: 'modifiedZ'; limit: number }
    /** The exact bound of small counts, each tail with this chance. */
    | { method: 'poisson'; tail: number }
    /** Limits that somebody typed. */
    | { method: 'fixed'; low: number; high: number }
  ) & {
    /** The strength of the doubt about a value outside; `null` shows the range and raises nothing. */
    raises: 'explain' | 'note' | null
  }

export interface Item {
  code: string
  name: Words
  /** What to count and what not. */
  definition: Words
  unitOfMeasure: string
  number: CellNumber
  rollUp: RollUp
  range: RangeMethod | null
  /** Codes of at most two axes. */
  axes: string[]
}

export interface Section {
  code: string
  name: Words
  items: Item[]
}

/** A rate of the district report: numerator over denominator times a factor, each rolled up first. */
export interface IndicatorDefinition {
  code: string
  name: Words
  /** Expressions over the rolled-up cells. */
  numerator: string
  denominator: string
  factor: number
  /** What stands behind the number: `%`, or words such as “per 1,000 live births”. */
  unitOfMeasure: Words
}

/**
 * A case register as far as an edition's rules count its cases: its name, and the questions that a condition
 * may ask.
 */
export interface CountedRegister {
  code: string
  name: Words
  questions: {
    code: string
    label: Words
    type: ValueType
    unitOfMeasure: string | null
    choices?: { code: string; label: Words }[]
  }[]
}

/** A published, unchangeable version of a dataset. */
export interface Edition {
  dataset: string
  number: number
  name: Words
  frequency: Frequency
  timing: Timing
  axes: Axis[]
  sections: Section[]
  rules: RuleDefinition[]
  indicators: IndicatorDefinition[]
  /**
   * The registers that its rules count, as they were when it was published: an edition stands by itself, also
   * on a device.
   */
  counts?: CountedRegister[]
}

/** The smallest number entered: one item at one band of each of its axes. */
export interface Cell {
  /** `deliveries`, `deliveries.u20` or `deliveries.u20.facility`. */
  key: string
  item: Item
  bands: Band[]
}

export const cellKey = (item: string, bands: readonly string[]): string => [item, ...bands].join('.')

/** The axes of an item, in its order. An axis that the edition does not have is a mistake in the edition. */
export function axesOf(edition: Edition, item: Item): Axis[] {
  return item.axes.map(code => {
    const axis = edition.axes.find(candidate => candidate.code === code)
    if (!axis) throw new Error(`Item ${item.code} names an axis ${code} that the edition does not have.`)
    return axis
  })
}

/** The cells of one item, the first axis outermost. */
export function cellsOfItem(edition: Edition, item: Item): Cell[] {
  let cells: Cell[] = [{ key: item.code, item, bands: [] }]
  for (const axis of axesOf(edition, item)) {
    cells = cells.flatMap(cell =>
      axis.bands.map(band => ({
        key: cellKey(cell.key, [band.code]),
        item,
        bands: [...cell.bands, band],
      })),
    )
  }
  return cells
}

export const itemsOf = (edition: Edition): Item[] => edition.sections.flatMap(section => section.items)

/** All cells of an edition in paper order. */
export const cellsOf = (edition: Edition): Cell[] =>
  itemsOf(edition).flatMap(item => cellsOfItem(edition, item))

/** A cell's name for people: “Live births, girls”. */
export function nameCell(cell: Cell, language: string): string {
  return [wordsIn(cell.item.name, language), ...cell.bands.map(band => wordsIn(band.name, language))].join(
    ', ',
  )
}
