import type { BoardRow } from '#core/contract/rounds'
import { fold, searchWords } from '#core/form/code'
import { groupBy } from '#core/group-by'
import { isReceived } from '#core/report/state'

/** What the rows of a board stand together by. */
export const BOARD_GROUPS = ['zone', 'kind', 'none'] as const
export type BoardGroup = (typeof BOARD_GROUPS)[number]

/** What rows are sorted by: names, or what needs somebody first. */
export const BOARD_SORTS = ['name', 'state', 'doubts', 'filled', 'received'] as const
export type BoardSort = (typeof BOARD_SORTS)[number]

/** Which rows are shown: those of a sign, those to accept, or those that are in and lack something. */
export const BOARD_SHOWS = [
  'overdue',
  'awaited',
  'draft',
  'sentBack',
  'sent',
  'accepted',
  'toAccept',
  'incomplete',
  'onPaper',
] as const
export type BoardShow = (typeof BOARD_SHOWS)[number]

export interface BoardView {
  group: BoardGroup
  sort: BoardSort
  /** Null shows all. */
  show: BoardShow | null
  /** A part of a name, whatever its case and accents. */
  find: string
}

/** Can a report be accepted as it is? */
export const isClean = ({ state, blocking }: Pick<BoardRow, 'state' | 'blocking'>): boolean =>
  state === 'sent' && blocking === 0

/** Does the district have a report in which something that applies is not answered? */
export const isIncomplete = ({ state, complete }: Pick<BoardRow, 'state' | 'complete'>): boolean =>
  isReceived(state) && !complete

function isShown(row: BoardRow, show: BoardShow | null): boolean {
  if (show === null) return true
  if (show === 'toAccept') return isClean(row)
  if (show === 'incomplete') return isIncomplete(row)
  return show === 'onPaper' ? row.onPaper : row.sign === show
}

/** What needs somebody first. */
const SIGN_ORDER = ['overdue', 'awaited', 'draft', 'sentBack', 'sent', 'accepted']

/** How two rows stand to each other; rows that are alike stay in the order of their names. */
const ORDERS: Readonly<Record<BoardSort, (a: BoardRow, b: BoardRow) => number>> = {
  name: () => 0,
  state: (a, b) => SIGN_ORDER.indexOf(a.sign) - SIGN_ORDER.indexOf(b.sign),
  doubts: (a, b) => b.mustFix - a.mustFix || b.explain - a.explain,
  filled: (a, b) => a.filled - b.filled,
  // What never came is the latest of all.
  received: (a, b) =>
    Date.parse(b.receivedAt ?? '9999-01-01') - Date.parse(a.receivedAt ?? '9999-01-01') ||
    b.daysLate - a.daysLate,
}

/** Some rows of a board that stand together under a heading; an empty name has none. */
export interface BoardPart {
  key: string
  name: string
  rows: BoardRow[]
}

/**
 * The rows of a board as they are shown: filtered, sorted, and in their groups.
 *
 * @param rows as the server gives them: in the order of zones and names
 * @example arrangeBoard(rows, { group: 'kind', sort: 'doubts', show: 'sent', find: 'mill' })
 */
export function arrangeBoard(rows: readonly BoardRow[], { group, sort, show, find }: BoardView): BoardPart[] {
  const parts = searchWords(find)
  const shown = rows.filter(
    row => isShown(row, show) && parts.every(part => fold(row.unit.name).includes(part)),
  )
  const byName = (a: BoardRow, b: BoardRow) => a.unit.name.localeCompare(b.unit.name)
  const inOrder = (some: readonly BoardRow[]) => some.toSorted((a, b) => ORDERS[sort](a, b) || byName(a, b))
  if (group === 'none') return shown.length ? [{ key: 'all', name: '', rows: inOrder(shown) }] : []
  const keyOf = (row: BoardRow) => (group === 'zone' ? row.zone.code : row.kind)
  return [...groupBy(shown, keyOf)]
    .map(([key, some]) => ({
      key,
      name: group === 'zone' ? some[0]!.zone.name : key,
      rows: inOrder(some),
    }))
    .toSorted((a, b) => a.name.localeCompare(b.name))
}
