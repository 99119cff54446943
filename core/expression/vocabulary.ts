import { TYPE_OF_KIND } from '../form/question'
import {
  axesOf,
  cellsOfItem,
  itemsOf,
  type Axis,
  type Edition,
  type Item,
  type Words,
} from '../report/edition'

/**
 * What an expression can hold: a number, yes or no, a text (also a chosen code), a day, or several chosen
 * codes.
 */
export type ValueType = 'number' | 'truth' | 'text' | 'day' | 'answers'

/** What one code means. */
export interface Name {
  code: string
  label: Words
  type: ValueType
  /** `doses`, `days`; null for a plain number that goes with any. */
  unitOfMeasure: string | null
  axes: readonly Axis[]
  /** The cells that the name adds up; a question has one, with its own code. */
  cells: readonly { key: string; bands: readonly string[] }[]
  /** What may be answered, when it is chosen from a list. */
  choices?: readonly { code: string; label: Words }[]
}

/** The codes that an expression may use, where it stands. */
export interface Vocabulary {
  label: Words
  names: ReadonlyMap<string, Name>
  /**
   * What may stand before a dot: other datasets of the unit, other forms of the register, the parent case.
   */
  others: ReadonlyMap<string, Vocabulary>
  /** What may be counted: case registers of the unit, repeats of a form. */
  lists: ReadonlyMap<string, Vocabulary>
  /**
   * Where there are no periods: in forms and cases, and in the condition of a count. Nothing looks back
   * there.
   */
  noPeriods?: true
}

export const NOTHING: ReadonlyMap<string, never> = new Map<string, never>()

/** The registers whose cases an edition counts. */
export const listsOf = ({ counts = [] }: Pick<Edition, 'counts'>): ReadonlyMap<string, Vocabulary> =>
  new Map(
    counts.map(({ code, name, questions }): [string, Vocabulary] => [
      code,
      {
        label: name,
        others: NOTHING,
        lists: NOTHING,
        noPeriods: true,
        names: new Map(
          questions.map(question => [
            question.code,
            { ...question, axes: [], cells: [{ key: question.code, bands: [] }] },
          ]),
        ),
      },
    ]),
  )

const itemNames = (
  of: Pick<Edition, 'axes'>,
  items: readonly Pick<Item, 'code' | 'name' | 'kind' | 'unitOfMeasure' | 'axes' | 'choices'>[],
): ReadonlyMap<string, Name> =>
  new Map(
    items.map((item): [string, Name] => [
      item.code,
      {
        code: item.code,
        label: item.name,
        type: item.kind === 'computed' ? 'number' : TYPE_OF_KIND[item.kind],
        unitOfMeasure: item.unitOfMeasure || null,
        ...(item.choices && { choices: item.choices }),
        axes: axesOf(of, item),
        cells: cellsOfItem(of, item).map(({ key, bands }) => ({ key, bands: bands.map(({ code }) => code) })),
      },
    ]),
  )

/** The datasets that an edition's rules may name. */
const othersOf = ({ others = [] }: Edition): ReadonlyMap<string, Vocabulary> =>
  new Map(
    others.map(named => [
      named.dataset,
      { label: named.name, names: itemNames(named, named.items), others: NOTHING, lists: NOTHING },
    ]),
  )

/** The vocabulary of a dataset's edition, with those of the datasets and case registers of the same unit. */
export function vocabularyOf(
  edition: Edition,
  others: ReadonlyMap<string, Vocabulary> = othersOf(edition),
  lists: ReadonlyMap<string, Vocabulary> = listsOf(edition),
): Vocabulary {
  return { label: edition.name, names: itemNames(edition, itemsOf(edition)), others, lists }
}
