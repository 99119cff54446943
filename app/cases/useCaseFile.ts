import { entryOfKept, foldCase, type AsOf } from '#core/cases/fold'
import { answerStories } from '#core/cases/story'
import { followUp } from '#core/cases/follow-up'
import { knownByForm } from '#core/cases/known-by-form'
import { parseDay } from '#core/calendar/day'
import { startOfDay } from '#core/calendar/deadline'
import type { CaseFileView } from '#core/contract/cases'
import { FILES_HERE } from '../device/useFilesHere'
import { formIn } from './useCases'

export type CaseEntry = CaseFileView['entries'][number]

/**
 * One case as the office reads it: as it stands, or as it was known at the end of a day; and each entry as it
 * was filled.
 */
export function useCaseFile(id: () => string) {
  const session = useSession()
  const load = useLoad(
    () => callApi('GET /api/cases/:case', { params: { case: id() } }),
    () => id(),
  )
  provide(FILES_HERE, {
    store: () => Promise.resolve(),
    show: ({ hash }) => Promise.resolve(`/api/files/${hash}`),
  })
  /** The day at whose end the case is looked at, as 2026-10-05; empty for now. */
  const asOfDay = ref('')
  watch(id, () => {
    asOfDay.value = ''
  })
  const asOf = computed<AsOf>(() => {
    const day = parseDay(asOfDay.value)
    return day.ok ? { knownBefore: startOfDay(day.value + 1, session.view?.timeZone ?? 'UTC') } : {}
  })
  const entries = computed(() => (load.data.value?.entries ?? []).map(entryOfKept))
  const file = computed(() => foldCase(id(), entries.value, asOf.value))
  const byId = computed(() => new Map((load.data.value?.entries ?? []).map(entry => [entry.id, entry])))

  /** The form of an entry, in the edition in which it was filled. */
  const formOf = ({ edition, form }: Pick<CaseEntry, 'edition' | 'form'>) =>
    formIn(load.data.value?.editions.find(one => one.edition === edition)?.definition, form)

  const known = computed(() => (load.data.value ? knownByForm(load.data.value.definition, file.value) : []))
  const follow = computed(() =>
    load.data.value
      ? followUp(load.data.value.definition, file.value, load.data.value.closed !== null)
      : null,
  )
  const stories = computed(() => answerStories(file.value, entries.value))
  return { load, asOfDay, file, byId, formOf, known, follow, stories }
}
