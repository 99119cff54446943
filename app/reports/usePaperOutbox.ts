import { v7 as uuid } from 'uuid'
import type { ReportFile } from '#core/contract/reports'
import type { PaperReport } from '#core/contract/paper-report'
import { BLANK, sameContent, type CellContent } from '#core/report/cell'
import { clockNow } from '../common/useClock'
import type { WaitingChange } from '../device/useDeskStore'
import type { Outbox, OutboxState } from './useOutbox'

type PaperCell = PaperReport['cells'][number]

/** What is kept of a paper while it is entered: in this browser, until it is saved or thrown away. */
export interface PaperDraft {
  /** Of the act of entering. */
  id: string
  paperOn: string
  filledBy: string
  why: string
  explanations: Record<string, string>
  cells: Record<string, PaperCell>
}

/**
 * The draft of a paper in this browser. A report holds counts and no persons, so it may stay here when the
 * browser is closed.
 * @param place a name for it, of a person and a report
 */
export function paperDraft(place: string) {
  const fresh = (): PaperDraft => ({
    id: uuid(),
    paperOn: '',
    filledBy: '',
    why: '',
    explanations: {},
    cells: {},
  })
  const kept = JSON.parse(localStorage.getItem(place) ?? 'null') as PaperDraft | null
  const draft = reactive(kept ?? fresh())
  return {
    draft,
    wasKept: kept !== null,
    save: () => localStorage.setItem(place, JSON.stringify(draft)),
    remove: () => localStorage.removeItem(place),
  }
}

/**
 * Keeps what is typed from a paper in its draft; nothing is sent before all of it is saved in one act. A value
 * that somebody else changed since it was typed is shown as a conflict, with who and when.
 */
export function usePaperOutbox(
  file: ReportFile,
  { draft, save: keep }: ReturnType<typeof paperDraft>,
): Outbox {
  const state = ref<OutboxState>(Object.keys(draft.cells).length ? 'saved' : 'idle')
  const at = ref(clockNow())
  const here = new Map(file.cells.map(one => [one.cell, one]))

  /** Who put the value there that stands in a cell now. */
  async function theirsOf(cell: string): Promise<WaitingChange['theirs']> {
    const { events } = await callApi('GET /api/reports/:round/:unit/cells/:cell', {
      params: { round: file.round.id, unit: file.unit.code, cell },
    })
    const [last] = events
    return last && { content: last.new, by: last.by, at: last.at }
  }

  async function waiting(): Promise<WaitingChange[]> {
    const rows: WaitingChange[] = []
    for (const { id, cell, base, content } of Object.values(draft.cells)) {
      const now = here.get(cell)
      const isChanged = (now?.version ?? 0) > base && !sameContent(now?.content ?? BLANK, content)
      const theirs = isChanged ? await theirsOf(cell) : undefined
      rows.push({
        ...{ id, cell, base, place: '', ...(theirs && { theirs }) },
        state: theirs ? 'needsYou' : 'waiting',
        change: {
          ...{ kind: 'cell', id, cell, base, content, madeAt: new Date(at.value).toISOString() },
          ...{ round: file.round.id, unit: file.unit.code },
        },
      })
    }
    return rows
  }

  return {
    state,
    at,
    save(cell: string, version: () => number, content: CellContent) {
      draft.cells[cell] = { id: uuid(), cell, base: version(), content }
      keep()
      state.value = 'saved'
      at.value = clockNow()
      return Promise.resolve()
    },
    flush: () => Promise.resolve(),
    waiting,
    received: () => new Map(),
    drop: () => Promise.resolve(),
  }
}
