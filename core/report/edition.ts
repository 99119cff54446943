import type { ValueType } from '../expression/vocabulary'
import type { RuleDefinition, Strength } from '../rule/definition'
import type { Timing } from '../calendar/deadline'
import type { ReportFrequency } from '../calendar/period'
import type { Choice, Conditions } from './asked'
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

/** What an item asks for: kinds of questions, so that reports and case forms are filled by the same parts. */
export const ITEM_KINDS = [
  'wholeNumber',
  'decimal',
  'yesNo',
  'oneOf',
  'severalOf',
  'date',
  'partialDate',
  'text',
  'computed',
] as const
export type ItemKind = (typeof ITEM_KINDS)[number]

/**
 * How an item's cells are put together over units and over time: numbers by *sum*, *mean*, *last* (stock at
 * the end); answers by *counts* (how many gave each) or *share* (the same of all that answered); days by
 * *latest*; *none* stays by itself.
 */
export type RollUp = 'sum' | 'mean' | 'last' | 'counts' | 'share' | 'latest' | 'none'

const OF_NUMBERS = ['sum', 'mean', 'last', 'none'] as const
const OF_ANSWERS = ['counts', 'share', 'none'] as const
const OF_DAYS = ['latest', 'none'] as const

/** The roll-ups that a kind of item can have, the usual one first. */
export const ROLL_UPS: Record<ItemKind, readonly RollUp[]> = {
  wholeNumber: OF_NUMBERS,
  decimal: OF_NUMBERS,
  computed: OF_NUMBERS,
  yesNo: OF_ANSWERS,
  oneOf: OF_ANSWERS,
  severalOf: OF_ANSWERS,
  date: OF_DAYS,
  partialDate: OF_DAYS,
  text: ['none'],
}

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

export interface Item extends Conditions {
  code: string
  name: Words
  /** What to count and what not. */
  definition: Words
  kind: ItemKind
  /** Of a number; empty for what has none. */
  unitOfMeasure: string
  rollUp: RollUp
  /** How the expected range of a number is found. */
  range: RangeMethod | null
  /** Codes of at most two axes. Only numbers that are typed are split. */
  axes: string[]
  /** The least and the most that is taken, of a number. */
  least?: number
  most?: number
  /** What may be chosen, of `oneOf` and `severalOf`. */
  choices?: Choice[]
  /** The shared list that the choices were taken from. They stand here whole. */
  list?: string
  /** How many letters a text may have, and its form. */
  longest?: number
  pattern?: string
  /** How a computed item is computed from the others of its report. */
  expression?: string
}

/** How the number of an item is typed and written; null for what is no number. */
export const numberKind = ({ kind }: Pick<Item, 'kind'>): CellNumber | null =>
  kind === 'wholeNumber' ? 'count' : kind === 'decimal' || kind === 'computed' ? 'decimal' : null

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

/** Another dataset as far as an edition's rules name its items: its numbers, by what they are rolled up. */
export interface NamedDataset {
  dataset: string
  name: Words
  frequency: ReportFrequency
  axes: Axis[]
  items: Pick<Item, 'code' | 'name' | 'kind' | 'unitOfMeasure' | 'rollUp' | 'axes'>[]
}

/** Cells of a report that are held against a count of the cases of a register. */
export interface CaseCount {
  code: string
  name: Words
  register: string
  /** Keys of the cells whose sum is held against the count. */
  cells: readonly string[]
  /** Which cases count, in the names of the register; all without it. */
  where?: string
  /** Do they count where they were seen, or where they live? */
  place: 'care' | 'residence'
  /** The question that says where they live; needed for `residence`. */
  residence?: string
  /** The question whose day decides in which period they count. */
  date: string
  /**
   * How much a difference weighs, as a doubt about the report; without it a difference is only shown. Only
   * for cases that count where they were seen: a facility does not have those of others.
   */
  raises?: Exclude<Strength, 'mustFix'>
}

/** A published, unchangeable version of a dataset. */
export interface Edition {
  dataset: string
  number: number
  name: Words
  frequency: ReportFrequency
  timing: Timing
  axes: Axis[]
  sections: Section[]
  rules: RuleDefinition[]
  indicators: IndicatorDefinition[]
  /**
   * The registers that its rules and case counts name, as they were when it was published: an edition stands by itself, also
   * on a device.
   */
  counts?: CountedRegister[]
  /** Cells that are held against a register. */
  caseCounts?: CaseCount[]
  /** The other datasets that its rules name, as they were then. */
  others?: NamedDataset[]
}

/** The smallest number entered: one item at one band of each of its axes. */
export interface Cell<Of = Item> {
  /** `deliveries`, `deliveries.u20` or `deliveries.u20.facility`. */
  key: string
  item: Of
  bands: Band[]
}

export const cellKey = (item: string, bands: readonly string[]): string => [item, ...bands].join('.')

/** The axes of an item, in its order. An axis that the edition does not have is a mistake in the edition. */
export function axesOf(edition: Pick<Edition, 'axes'>, item: Pick<Item, 'code' | 'axes'>): Axis[] {
  return item.axes.map(code => {
    const axis = edition.axes.find(candidate => candidate.code === code)
    if (!axis) throw new Error(`Item ${item.code} names an axis ${code} that the edition does not have.`)
    return axis
  })
}

/** The cells of one item, the first axis outermost. */
export function cellsOfItem<Of extends Pick<Item, 'code' | 'axes'>>(
  edition: Pick<Edition, 'axes'>,
  item: Of,
): Cell<Of>[] {
  let cells: Cell<Of>[] = [{ key: item.code, item, bands: [] }]
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
