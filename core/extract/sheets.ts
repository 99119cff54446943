import type { ExtractDefinition } from '../contract/extracts'
import { instancesIn, repeatKey } from '../form/outline'
import { groupBy } from '../group-by'
import { wordsIn, type Words } from '../report/edition'
import type { ValueType } from './about'
import { columnsOf, type ColumnSettings, type ExtractColumn, type ExtractRow } from './columns'
import type { ExtractField, InTable } from './fields'

/** A table of the file: the rows themselves, what repeats in them, or a table of the form. */
export interface ExtractSheet {
  /** Empty for the rows themselves, else the code of the repeat or of the table. */
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

/** The fields by which rows of a repeat, or of a table, are put to the row that they belong to. */
const KEYS: Readonly<Record<ExtractDefinition['rows'], readonly string[]>> = {
  report: ['@unit', '@period'],
  cell: ['@unit', '@period'],
  case: ['@case'],
  entry: ['@entry'],
}

/**
 * Is each table of the form a sheet of its own? Where each row of the file is a cell, it is none.
 * @example tablesAreSheets({ rows: 'report', tables: 'sheets' }) // true
 */
export const tablesAreSheets = ({ rows, tables }: Pick<ExtractDefinition, 'rows' | 'tables'>): boolean =>
  tables === 'sheets' && rows !== 'cell'

/** A field about a row of an inner sheet. */
const rowField = (code: string, label: Words, type: ValueType): ExtractField => ({
  ...{ path: code, short: code, key: `@${code}`, label, type },
  ...{ sections: [], question: null, isPersonal: false, editions: [] },
})
const NUMBER = rowField('number', { en: 'Number', fr: 'Numéro' }, 'number')
const ROW = rowField('row', { en: 'Row code', fr: 'Code de la ligne' }, 'text')
const ROW_NAME = rowField('row_name', { en: 'Row', fr: 'Ligne' }, 'text')

/** A row for each instance, with its number from 1 and its identifier. */
function* instanceRows(repeat: string, { about, answers }: ExtractRow): Iterable<ExtractRow> {
  for (const [at, instance] of instancesIn(repeat, answers).entries())
    yield { about: { ...about, number: at + 1, instance }, answers }
}

/** Where an answer stands in a table; only asked of fields of one. */
const placeOf = ({ inTable }: ExtractField): InTable => inTable!

/**
 * A sheet of a table of the form: a row for each of its rows, a column for each of its columns.
 * @param inside the chosen places, in the order of their columns
 * @param rows the codes and names of the rows of those places, in paper order whatever the order of the columns
 */
function tableSheet(
  table: string,
  inside: readonly ExtractField[],
  rows: ReadonlyMap<string, Words>,
  keys: readonly ExtractField[],
  settings: ColumnSettings,
  names: ReadonlyMap<string, string>,
): ExtractSheet {
  /** The keys of the answers, by column and row. */
  const keyAt = new Map(inside.map(field => [`${placeOf(field).column} ${placeOf(field).row}`, field.key]))
  /** One field stands for its column in all rows. */
  const columns = [...groupBy(inside, field => placeOf(field).column).values()].map(
    ([field]): ExtractField => {
      const { column, columnLabel: label } = placeOf(field!)
      const short = column.slice(table.length + 1).replaceAll('.', '_')
      return { ...field!, key: column, short, path: column, label }
    },
  )
  const all = [...keys, ROW, ROW_NAME, ...columns].map(field => {
    const name = names.get(field.key)
    return { field, ...(name && { name }) }
  })
  return {
    repeat: table,
    columns: columnsOf(all, settings, ({ about, answers }, field) => {
      const key = keyAt.get(`${placeOf(field).column} ${String(about.row)}`)
      return key === undefined ? undefined : answers[key]
    }),
    *rowsOf({ about, answers }) {
      for (const [row, name] of rows)
        yield { about: { ...about, row, row_name: wordsIn(name, settings.language) }, answers }
    },
  }
}

/**
 * Finds what a definition takes, and in which tables.
 *
 * @param fields all that its source has
 * @param mayTakePersonal without it personal columns are left out
 * @example planExtract(definition, fields, settings, false).leftOut // [{ key: 'child_name', why: 'personal' }]
 */
export function planExtract(
  definition: Pick<ExtractDefinition, 'columns' | 'rows' | 'tables' | 'tableNames'>,
  fields: readonly ExtractField[],
  settings: ColumnSettings,
  mayTakePersonal: boolean,
): ExtractPlan {
  const { columns, rows } = definition
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
  const apart = (field: ExtractField) => (tablesAreSheets(definition) ? field.inTable?.table : undefined)
  const own = chosen.filter(
    ({ field }) => !field.repeat && !apart(field) && !(rows === 'cell' && field.question),
  )
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
  const inTables = chosen.map(({ field }) => field).filter(field => apart(field))
  const names = new Map(definition.tableNames?.map(({ key, name }) => [key, name]))
  for (const [table, inside] of groupBy(inTables, field => placeOf(field).table)) {
    const inPaperOrder = fields.filter(field => inside.includes(field))
    const tableRows = new Map(inPaperOrder.map(field => [placeOf(field).row, placeOf(field).rowName]))
    inner.push(tableSheet(table, inside, tableRows, keys, settings, names))
  }
  return {
    sheets: main.columns.length ? [main, ...inner] : inner,
    leftOut,
    fields: chosen.map(({ field }) => field),
  }
}
