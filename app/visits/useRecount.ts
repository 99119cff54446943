import { v7 as uuid } from 'uuid'
import { parseDay, printDay } from '#core/calendar/day'
import type { RecountSheet } from '#core/contract/visits'
import { numberOf, readCell } from '#core/report/cell'
import { cellsOf, numberKind, type Cell } from '#core/report/edition'

/** What is kept of a recount while it is counted: in this browser, until it is saved or thrown away. */
interface RecountDraft {
  /** Of the act of saving. */
  id: string
  countedOn: string
  countedBy: string
  onPaper: boolean
  /** The items that are counted, in the order in which they were chosen. */
  items: string[]
  /** What was typed, by cell. */
  typed: Record<string, string>
}

/** What a recount lacks before it can be saved. */
export type RecountLack = 'day' | 'by' | 'numbers' | 'problems'

/**
 * A supervisor's own count of a report. It is kept in this browser at every key, so that it can be counted at a
 * facility without a network, and saved in one act afterwards.
 */
export function useRecount(sheet: RecountSheet, visit: string | undefined) {
  const words = useWords()
  const session = useSession()
  const place = `recount|${session.view?.person.id ?? ''}|${sheet.round.id}|${sheet.unit.code}`
  const fresh = (): RecountDraft => ({
    ...{ id: uuid(), countedOn: printDay(words.today()), onPaper: false, items: [], typed: {} },
    countedBy: session.view?.person.displayName ?? '',
  })
  const kept = JSON.parse(localStorage.getItem(place) ?? 'null') as RecountDraft | null
  const draft = reactive(kept ?? fresh())
  const isKept = ref(kept !== null)
  watch(draft, () => {
    localStorage.setItem(place, JSON.stringify(draft))
    isKept.value = true
  })

  const countable = new Set(sheet.cells)
  const all = cellsOf(sheet.edition).filter(({ key }) => countable.has(key))
  /** Each item that can be counted, with its cells. */
  const items = [...new Map(all.map(({ item }) => [item.code, item])).values()].map(item => ({
    item,
    cells: all.filter(cell => cell.item.code === item.code),
  }))
  const chosen = computed(() => items.filter(({ item }) => draft.items.includes(item.code)))

  const read = ({ key, item }: Cell) =>
    readCell(draft.typed[key] ?? '', numberKind(item) ?? 'count', words.locale.value)
  /** Why what was typed for a cell is no number. */
  const problemAt = (cell: Cell): string => {
    const one = read(cell)
    return one.ok ? '' : words.problem(one.problems[0]!)
  }
  const shown = computed(() => chosen.value.flatMap(({ cells }) => cells))
  const numbers = computed(() =>
    shown.value.flatMap(cell => {
      const one = read(cell)
      const value = one.ok ? numberOf(one.value) : null
      return value === null ? [] : [{ cell: cell.key, value }]
    }),
  )
  const lacks = computed((): RecountLack[] => {
    const day = parseDay(draft.countedOn)
    const are: [RecountLack, boolean][] = [
      ['day', !day.ok || day.value > words.today()],
      ['by', draft.countedBy.trim().length < 2],
      ['numbers', !numbers.value.length],
      ['problems', shown.value.some(cell => problemAt(cell))],
    ]
    return are.flatMap(([lack, is]) => (is ? [lack] : []))
  })

  const { busy, problem, run } = useAct()
  function discard() {
    localStorage.removeItem(place)
  }
  /** @returns whether the district has it */
  const save = (): Promise<boolean> =>
    run(async () => {
      const { id, countedOn, countedBy, onPaper } = draft
      await callApi('POST /api/reports/:round/:unit/recount', {
        params: { round: sheet.round.id, unit: sheet.unit.code },
        body: {
          ...{ id, countedOn, countedBy, onPaper, ...(visit && { visit }) },
          cells: numbers.value,
        },
      })
      discard()
    })
  return { draft, isKept, items, chosen, problemAt, lacks, busy, problem, save, discard }
}
