import type { Board, BoardRow } from '#core/contract/rounds'
import type { Load } from '../common/useLoad'
import {
  arrangeBoard,
  BOARD_GROUPS,
  BOARD_SHOWS,
  BOARD_SORTS,
  type BoardShow,
  type BoardView,
} from './boardView'

const oneOf = <T extends string>(all: readonly T[], text: string | undefined): T | null =>
  all.find(one => one === text) ?? null

/**
 * A board as somebody works through it: how its rows stand, which are selected, and which report is open beside
 * it. All but the selection is kept in the address of the page.
 */
export function useBoard(load: Load<Board>) {
  const { asked, ask } = useAsked(['group', 'sort', 'show', 'find', 'unit'])
  const view = computed<BoardView>(() => ({
    group: oneOf(BOARD_GROUPS, asked.value.group) ?? 'zone',
    sort: oneOf(BOARD_SORTS, asked.value.sort) ?? 'name',
    show: oneOf<BoardShow>(BOARD_SHOWS, asked.value.show),
    find: asked.value.find ?? '',
  }))
  const parts = computed(() => arrangeBoard(load.data.value?.rows ?? [], view.value))
  const rows = computed(() => parts.value.flatMap(part => part.rows))

  const selected = shallowReactive(new Set<string>())
  /** The selected rows that are shown: nothing happens to a facility that is out of sight. */
  const selection = computed(() => rows.value.filter(({ unit }) => selected.has(unit.code)))
  const isAllSelected = computed(() => rows.value.length > 0 && selection.value.length === rows.value.length)
  function select(some: readonly BoardRow[], is: boolean) {
    for (const { unit } of some)
      if (is) selected.add(unit.code)
      else selected.delete(unit.code)
  }
  const unselect = () => selected.clear()
  watch(() => load.data.value?.round.id, unselect)

  /** The report that is open beside the board, and the way from one to the next. */
  const open = computed(() => asked.value.unit ?? null)
  const openUnit = (unit: string | null) => void ask({ unit })
  function step(by: number) {
    const at = rows.value.findIndex(({ unit }) => unit.code === open.value)
    const next = rows.value[at + by]
    if (next) openUnit(next.unit.code)
  }

  return {
    ...{ view, ask, parts, rows },
    ...{ selection, isSelected: (code: string) => selected.has(code), isAllSelected, select, unselect },
    ...{ open, openUnit, step },
  }
}
export type BoardWork = ReturnType<typeof useBoard>
