import { describe, expect, it } from 'vitest'
import type { FieldLine } from '#core/contract/extracts'
import { tableColumns, withTableColumns } from './tableColumns'

const field = (key: string, column?: string): FieldLine => ({
  ...{ key, short: key, path: key, label: { en: key }, type: 'number', sections: [], repeat: null },
  inTable: column ? { table: 'rooms', column, label: { en: column } } : null,
  isPersonal: false,
})
const FIELDS = [
  field('visited_by'),
  ...['ward', 'latrine'].flatMap(row => [
    field(`basins.${row}`, 'rooms.basins'),
    field(`soap.${row}`, 'rooms.soap'),
  ]),
]
const columns = FIELDS.map(({ key }) => ({ key }))
const keysOf = (definition: { columns: { key: string }[] }) => definition.columns.map(({ key }) => key)

describe('the columns of a table that is a sheet of its own', () => {
  it('stand each for the places of all rows, under the names that somebody gave them', () => {
    const tableNames = [{ key: 'rooms.soap', name: 'Soap there' }]
    expect(tableColumns({ columns, tableNames }, FIELDS, 'rooms')).toEqual([
      { key: 'rooms.basins' },
      { key: 'rooms.soap', name: 'Soap there' },
    ])
    expect(tableColumns({ columns: columns.slice(0, 2) }, FIELDS, 'rooms')).toEqual([{ key: 'rooms.basins' }])
    expect(tableColumns({ columns }, FIELDS, 'wards')).toEqual([])
  })

  it('move with their places, and what stands elsewhere stays where it is', () => {
    const moved = withTableColumns({ columns }, FIELDS, 'rooms', [
      { key: 'rooms.soap', name: 'Soap' },
      { key: 'rooms.basins' },
    ])
    expect(keysOf(moved)).toEqual([
      ...['visited_by', 'soap.ward', 'soap.latrine', 'basins.ward', 'basins.latrine'],
    ])
    expect(moved.tableNames).toEqual([{ key: 'rooms.soap', name: 'Soap' }])
    expect(tableColumns(moved, FIELDS, 'rooms').map(({ key }) => key)).toEqual(['rooms.soap', 'rooms.basins'])
  })

  it('are taken out with all their places and their name; names of other tables stay', () => {
    const tableNames = [
      { key: 'rooms.soap', name: 'Soap' },
      { key: 'wards.beds', name: 'Beds' },
    ]
    const fewer = withTableColumns({ columns, tableNames }, FIELDS, 'rooms', [{ key: 'rooms.basins' }])
    expect(keysOf(fewer)).toEqual(['visited_by', 'basins.ward', 'basins.latrine'])
    expect(fewer.tableNames).toEqual([{ key: 'wards.beds', name: 'Beds' }])
  })
})
