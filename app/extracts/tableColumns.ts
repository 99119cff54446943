import type { ExtractDefinition, FieldLine } from '#core/contract/extracts'
import { groupBy } from '#core/group-by'
import type { ExtractColumnChoice } from './useExtractDraft'

type Chosen = Pick<ExtractDefinition, 'columns' | 'tableNames'>

/** The columns of a table's sheet, by the keys of the answers that fill them. */
const columnsIn = (fields: readonly FieldLine[], table: string): ReadonlyMap<string, string> =>
  new Map(fields.flatMap(({ key, inTable }) => (inTable?.table === table ? [[key, inTable.column]] : [])))

/**
 * The columns of a table that is a sheet of its own. Each stands for the chosen places of all its rows.
 * @returns them in their order, with the names that somebody gave them
 * @example tableColumns(definition, fields, 'rooms') // [{ key: 'rooms.basins', name: 'Basins' }]
 */
export function tableColumns(
  { columns, tableNames = [] }: Chosen,
  fields: readonly FieldLine[],
  table: string,
): ExtractColumnChoice[] {
  const columnOf = columnsIn(fields, table)
  const keys = new Set(columns.flatMap(({ key }) => columnOf.get(key) ?? []))
  return [...keys].map(key => {
    const name = tableNames.find(one => one.key === key)?.name
    return { key, ...(name && { name }) }
  })
}

/**
 * Puts the columns of a table's sheet in another order, takes some out, and names them. The places behind them
 * move, or go, together.
 * @example withTableColumns(definition, fields, 'rooms', [{ key: 'rooms.soap' }, { key: 'rooms.basins' }])
 */
export function withTableColumns<T extends Chosen>(
  definition: T,
  fields: readonly FieldLine[],
  table: string,
  next: readonly ExtractColumnChoice[],
): T & Required<Pick<Chosen, 'tableNames'>> {
  const columnOf = columnsIn(fields, table)
  const places = groupBy(definition.columns, ({ key }) => columnOf.get(key))
  const own = new Set(columnOf.values())
  const tableNames = [
    ...(definition.tableNames ?? []).filter(({ key }) => !own.has(key)),
    ...next.flatMap(({ key, name }) => (name ? [{ key, name }] : [])),
  ]
  return {
    ...definition,
    columns: [...(places.get(undefined) ?? []), ...next.flatMap(({ key }) => places.get(key) ?? [])],
    tableNames,
  }
}
