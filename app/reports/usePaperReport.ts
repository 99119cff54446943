import type { ReportFile } from '#core/contract/reports'
import { parseDay } from '#core/calendar/day'
import { BLANK, sameContent } from '#core/report/cell'
import { isReceived } from '#core/report/state'
import type { Doubt } from '#core/rule/find-doubts'
import { paperDraft, usePaperOutbox } from './usePaperOutbox'
import { useReportEntry } from './useReportEntry'

/** What a paper lacks before it can be saved. */
export type PaperLack = 'day' | 'filledBy' | 'why' | 'values' | 'problems' | 'sentences'

/**
 * A report that a facility filled on paper, entered at the office: typed like a report on a device, kept in
 * this browser, and saved in one act.
 */
export function usePaperReport(file: ReportFile) {
  const { today } = useWords()
  const person = useSession().view?.person.id ?? ''
  const kept = paperDraft(`paper|${person}|${file.round.id}|${file.unit.code}`)
  const { draft } = kept
  const wasReceived = isReceived(file.state)
  const entry = useReportEntry(file, {
    outboxOf: () => usePaperOutbox(file, kept),
    // After closing it is the office that decides.
    isClosed: ref(false),
  })
  entry.why.value = draft.why
  onMounted(() => entry.restorePending())

  watch([() => [draft.paperOn, draft.filledBy, { ...draft.explanations }], entry.why], () => {
    draft.why = entry.why.value
    kept.save()
  })

  /** What the paper says otherwise than what stands there. */
  const cells = computed(() => {
    const here = new Map(file.cells.map(({ cell, content }) => [cell, content]))
    return Object.values(draft.cells).filter(
      ({ cell, content }) => !sameContent(here.get(cell) ?? BLANK, content),
    )
  })
  const toSay = computed(() =>
    wasReceived ? [] : entry.doubts.value.filter(({ strength }) => strength !== 'note'),
  )
  const isSaid = ({ key }: Doubt) => (draft.explanations[key]?.trim().length ?? 0) > 1
  const lacks = computed((): PaperLack[] => {
    const day = parseDay(draft.paperOn)
    const all: [PaperLack, boolean][] = [
      ['day', !day.ok || day.value > today()],
      ['filledBy', draft.filledBy.trim().length < 2],
      ['why', wasReceived && entry.why.value.trim().length < 2],
      ['values', wasReceived ? !cells.value.length : !entry.filled.value.answered],
      ['problems', Object.keys(entry.problems).length + Object.keys(entry.conflicts).length > 0],
      ['sentences', !toSay.value.every(isSaid)],
    ]
    return all.flatMap(([lack, is]) => (is ? [lack] : []))
  })
  const { busy, problem, run } = useAct()

  /** Saves the paper as the report of its facility. @returns whether the district has it */
  async function save(): Promise<boolean> {
    return run(async () => {
      await callApi('POST /api/reports/:round/:unit/paper', {
        params: { round: file.round.id, unit: file.unit.code },
        body: {
          ...{ id: draft.id, paperOn: draft.paperOn, filledBy: draft.filledBy, cells: cells.value },
          explanations: Object.fromEntries(
            toSay.value.map(({ key }) => [key, draft.explanations[key] ?? '']),
          ),
          ...(wasReceived && { why: entry.why.value }),
        },
      })
      kept.remove()
    })
  }

  return {
    ...{ entry, draft, wasKept: kept.wasKept, wasReceived, toSay, lacks },
    ...{ busy, problem, save, discard: kept.remove },
  }
}
