import { bad, good, type Result } from '../result'
import { textOf, type Sheet } from './report-sheet'
import { documentText, type DocumentGroup, type DocumentValue, type ValueDocument } from './value-document'

/** The columns that stand in every table; those of the axes stand before the last. */
const PLACE = ['dataSet', 'period', 'orgUnit', 'dataElement'] as const
const VALUE = 'value'

/** A table of values, one a row: its heading first. Numbers are numbers, all else is text. */
export function documentRows({ groups }: ValueDocument): (string | number)[][] {
  const axes = [
    ...new Set(groups.flatMap(({ values }) => values.flatMap(({ axes: own }) => Object.keys(own)))),
  ]
  const rows = groups.flatMap(({ dataSet, period, orgUnit, values }) =>
    values.map(({ dataElement, axes: own, value }) => [
      ...[dataSet, period, orgUnit, dataElement],
      ...axes.map(axis => own[axis] ?? ''),
      typeof value === 'number' ? value : documentText(value),
    ]),
  )
  return [[...PLACE, ...axes, VALUE], ...rows]
}

/** Is a sheet such a table, and no table with a row for each report? */
export const isValueTable = ({ rows: [head] }: Sheet): boolean => {
  const names = (head?.values ?? []).map(textOf)
  return [...PLACE, VALUE].every(name => names.includes(name))
}

/**
 * Reads a table of values as {@link documentRows} writes it; rows of one report need not stand together.
 *
 * @returns the document; or `document-part` with the row that lacks something, `document-empty`
 */
export function readValueTable({ rows: [head, ...rows] }: Sheet): Result<ValueDocument> {
  const names = (head?.values ?? []).map(textOf)
  const axes = names.filter(name => name && name !== VALUE && !PLACE.some(own => own === name))
  const groups = new Map<string, DocumentGroup & { values: DocumentValue[] }>()
  for (const { number, values } of rows) {
    const at = (name: string) => values[names.indexOf(name)]
    if (values.every(value => textOf(value) === '')) continue
    const lacking = PLACE.find(name => !textOf(at(name)))
    if (lacking)
      return bad({
        code: 'document-part',
        message: `Row ${number}: ${lacking}.`,
        values: { group: number, part: lacking },
      })
    const [dataSet, period, orgUnit, dataElement] = PLACE.map(name => textOf(at(name))) as [
      string,
      string,
      string,
      string,
    ]
    const key = JSON.stringify([dataSet, period, orgUnit])
    const group = groups.get(key) ?? { dataSet, period, orgUnit, values: [] }
    groups.set(key, group)
    const value = at(VALUE)
    group.values.push({
      dataElement,
      value: typeof value === 'number' || typeof value === 'boolean' ? value : textOf(value),
      axes: Object.fromEntries(
        axes.flatMap(axis => (textOf(at(axis)) ? [[axis, textOf(at(axis))] as const] : [])),
      ),
    })
  }
  if (!groups.size) return bad({ code: 'document-empty', message: 'No reports stand in this file.' })
  return good({ exported: '', groups: [...groups.values()] })
}
