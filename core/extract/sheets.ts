import type { ExtractDefinition } from '../contract/extracts'
import { instancesIn, repeatKey } from '../form/outline'
import { columnsOf, type ColumnSettings, type ExtractColumn, type ExtractRow } from './columns'
import type { ExtractField } from './fields'

/** A table of the file: the rows themselves, or what repeats in them. */
export interface ExtractSheet {
  /** Empty for the rows themselves, else the code of the repeat. */
  repeat: string
  columns: ExtractColumn[]
  /** The rows that one row of the extract has in this table. */
  rowsOf: (row: ExtractRow) => Iterable<ExtractRow>
}

/** What a definition comes to for a person. */
export interface ExtractPlan {
  sheets: ExtractSheet[]
  leftOut: { key: string; why: 'personal' | 'unknown' }[]
  /** The fields whose answers are in the file, or decide what is in it. */
  fields: ExtractField[]
}

/** The field by which rows of a repeat are put to the row that they belong to. */
const KEYS: Readonly<Record<ExtractDefinition['rows'], readonly string[]>> = {
  report: ['@unit', '@period'],
  cell: ['@unit', '@period'],
  case: ['@case'],
  entry: ['@entry'],
}

const NUMBER: ExtractField = {
  ...{ path: 'number', short: 'number', key: '@number', label: { en: 'Number', fr: 'Numéro' } },
  ...{ type: 'number', sections: [], question: null, isPersonal: false, editions: [] },
}

/** A row for each instance, with its number from 1 and its identifier. */
function* instanceRows(repeat: string, { about, answers }: ExtractRow): Iterable<ExtractRow> {
  for (const [at, instance] of instancesIn(repeat, answers).entries())
    yield { about: { ...about, number: at + 1, instance }, answers }
}

/**
 * Finds what a definition takes, and in which tables.
 *
 * @param fields all that its source has
 * @param mayTakePersonal without it personal columns are left out
 * @example planExtract(definition, fields, settings, false).leftOut // [{ key: 'child_name', why: 'personal' }]
 */
export function planExtract(
  { columns, rows }: Pick<ExtractDefinition, 'columns' | 'rows'>,
  fields: readonly ExtractField[],
  settings: ColumnSettings,
  mayTakePersonal: boolean,
): ExtractPlan {
  const byKey = new Map(fields.map(field => [field.key, field]))
  const leftOut: ExtractPlan['leftOut'] = []
  const chosen: { field: ExtractField; name?: string }[] = []
  for (const { key, name } of columns) {
    const field = byKey.get(key)
    if (!field) leftOut.push({ key, why: 'unknown' })
    else if (field.isPersonal && !mayTakePersonal) leftOut.push({ key, why: 'personal' })
    else chosen.push({ field, ...(name && { name }) })
  }
  // The answers among the columns of cells say which cells are rows.
  const own = chosen.filter(({ field }) => !field.repeat && !(rows === 'cell' && field.question))
  const main: ExtractSheet = {
    repeat: '',
    columns: columnsOf(own, settings, ({ answers }, { key }) => answers[key]),
    rowsOf: row => [row],
  }
  const keys = KEYS[rows].flatMap(key => byKey.get(key) ?? [])
  const repeats = [...new Set(chosen.flatMap(({ field }) => field.repeat ?? []))]
  const inner = repeats.map((repeat): ExtractSheet => {
    const inside = chosen.filter(({ field }) => field.repeat === repeat)
    const all = [...keys.map(field => ({ field })), { field: NUMBER }, ...inside]
    return {
      repeat,
      columns: columnsOf(all, settings, ({ about, answers }, { key }) => {
        const [, cell] = key.split('/')
        return answers[repeatKey(repeat, String(about.instance), cell!)]
      }),
      rowsOf: row => instanceRows(repeat, row),
    }
  })
  return {
    sheets: main.columns.length ? [main, ...inner] : inner,
    leftOut,
    fields: chosen.map(({ field }) => field),
  }
}
