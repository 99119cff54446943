import { printInterval } from '../calendar/interval'
import type { Period } from '../calendar/period'
import {
  holdsNumbersOnly,
  type DocumentFormat,
  type DocumentValue,
  type ValueDocument,
} from '../exchange/value-document'
import type { CellValue } from '../report/cell'
import { cellKey, cellsOf, itemsOf, type Cell, type Edition } from '../report/edition'
import { bandCode, turned, type CodeBook } from './codes'

/** Where a value stands here. */
export interface SentPlace {
  unit: string
  cell: string
}

/** Where a value stands at the receiver. */
export interface TheirPlace {
  orgUnit: string
  dataElement: string
  axes: Readonly<Record<string, string>>
}

/** One text for a place at the receiver, whatever the order of its axes. */
export const theirPlaceKey = ({ orgUnit, dataElement, axes }: TheirPlace): string =>
  JSON.stringify([
    orgUnit,
    dataElement,
    Object.entries(axes).sort(([one], [other]) => (one < other ? -1 : 1)),
  ])

/**
 * Finds the cells of an edition by what another system calls them.
 *
 * @param codes theirs, where they are not the same as ours
 * @returns the key of the cell; null where this edition has none
 * @example cellFinder(edition, null)({ dataElement: 'visits', axes: { age: 'u5' } }) // 'visits.u5'
 */
export function cellFinder(edition: Edition, codes: CodeBook | null) {
  const known = codes && turned(codes)
  const items = new Map(itemsOf(edition).map(item => [item.code, item]))
  const cells = new Set(cellsOf(edition).map(({ key }) => key))
  return ({ dataElement, axes }: Pick<TheirPlace, 'dataElement' | 'axes'>): string | null => {
    const item = items.get(known ? (known.item.get(dataElement) ?? '') : dataElement)
    const bands = new Map(
      Object.entries(axes).map(([axis, band]): [string, string] => {
        const [ours, of] = known ? (known.band.get(bandCode(axis, band))?.split('.') ?? []) : [axis, band]
        return [ours ?? '', of ?? '']
      }),
    )
    if (!item || bands.size !== item.axes.length) return null
    const key = cellKey(
      item.code,
      item.axes.map(axis => bands.get(axis) ?? ''),
    )
    return cells.has(key) ? key : null
  }
}

/** What is sent of a district's round. */
export interface Sent {
  document: ValueDocument
  /** How many values it holds. */
  values: number
  /** Answers that are no numbers, where the format holds nothing else. */
  noNumbers: number
  /** Values of items, bands or facilities that are left out on purpose, or that the edition no longer has. */
  leftOut: number
}

/** The place of a cell under their codes; null where a part of it is left out. */
export function theirCell(cell: Cell, codes: CodeBook): Omit<TheirPlace, 'orgUnit'> | null {
  const dataElement = codes.item.get(cell.item.code)
  const axes = cell.bands.map((band, at) => {
    const axis = cell.item.axes[at]!
    return [codes.axis.get(axis), codes.band.get(bandCode(axis, band.code))] as const
  })
  if (!dataElement || axes.some(([axis, band]) => !axis || !band)) return null
  return { dataElement, axes: Object.fromEntries(axes as [string, string][]) }
}

/**
 * Puts the numbers of a district's facilities under the codes of a receiver.
 *
 * @param cells by facility and cell
 * @param exported the instant at which it is written, ISO 8601
 * @param only what is sent, where it is not all: by facility and cell
 */
export function documentOf(
  { edition, period, format }: { edition: Edition; period: Period; format: DocumentFormat },
  cells: Readonly<Record<string, Readonly<Record<string, CellValue>>>>,
  codes: CodeBook,
  exported: string,
  only: (place: SentPlace) => boolean = () => true,
): Sent {
  let count = 0
  let noNumbers = 0
  let leftOut = 0
  const theirs = new Map(cellsOf(edition).map(cell => [cell.key, theirCell(cell, codes)]))
  const dataSet = codes.dataset.get(edition.dataset) ?? edition.dataset
  const groups = Object.entries(cells).flatMap(([unit, own]) => {
    const orgUnit = codes.unit.get(unit)
    const values = Object.entries(own).flatMap(([cell, value]): DocumentValue[] => {
      if (!only({ unit, cell })) return []
      const place = theirs.get(cell)
      if (!place || !orgUnit) leftOut++
      else if (holdsNumbersOnly(format) && typeof value !== 'number') noNumbers++
      else {
        count++
        return [{ ...place, value }]
      }
      return []
    })
    return orgUnit && values.length ? [{ dataSet, period: printInterval(period), orgUnit, values }] : []
  })
  return { document: { exported, groups }, values: count, noNumbers, leftOut }
}
