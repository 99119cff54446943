import { parseInterval } from '../calendar/interval'
import type { Cycle } from '../calendar/period'
import { printPeriod } from '../calendar/period-text'
import type { Sheet, SheetRow } from '../exchange/report-sheet'
import type { DocumentValue, ValueDocument } from '../exchange/value-document'
import type { Edition } from '../report/edition'
import { turned, type CodeBook } from './codes'
import { cellFinder } from './document'

/** Their place in words: `OPD (age=u5)`. */
export const sayPlace = ({ dataElement, axes }: Pick<DocumentValue, 'dataElement' | 'axes'>): string => {
  const bands = Object.entries(axes).map(([axis, band]) => `${axis}=${band}`)
  return bands.length ? `${dataElement} (${bands.join(', ')})` : dataElement
}

/**
 * Lays the reports of another system out as a sheet with a row for each report, so that they come in as any other
 * file does. The rows are numbered as the groups of the document, from 1; the headings stand in row 0.
 *
 * @param codes theirs, where they are not the same as ours
 * @returns the sheet; values without a place in the dataset, and groups of other datasets, stand in columns whose
 *   heading is no cell: the reader of sheets names them as passed over
 */
export function documentSheet(
  name: string,
  document: ValueDocument,
  edition: Edition,
  cycle: Cycle,
  codes: CodeBook | null,
): Sheet {
  const units = codes && turned(codes).unit
  const cellOf = cellFinder(edition, codes)
  const columnOf = (value: DocumentValue): string => cellOf(value) ?? sayPlace(value)
  const dataSet = codes?.dataset.get(edition.dataset) ?? edition.dataset
  const own = document.groups.flatMap((group, at) =>
    group.dataSet === dataSet ? [{ ...group, number: at + 1 }] : [],
  )
  const others = [...new Set(document.groups.map(group => group.dataSet))].filter(one => one !== dataSet)
  const columns = [...new Set(own.flatMap(({ values }) => values.map(columnOf)))]
  const rows = own.map(({ number, orgUnit, period, values }): SheetRow => {
    const contents = new Map(values.map(value => [columnOf(value), value.value]))
    const read = parseInterval(period, cycle)
    return {
      number,
      values: [
        units?.get(orgUnit) ?? orgUnit,
        // A period of another kind is refused where the others are, as it stands.
        read.ok ? printPeriod(read.value) : period,
        ...columns.map(column => {
          const value = contents.get(column)
          return value === undefined ? null : typeof value === 'object' ? value.join(';') : value
        }),
      ],
    }
  })
  return {
    name,
    rows: [{ number: 0, values: ['unit', 'period', ...columns, ...others] }, ...rows],
  }
}
