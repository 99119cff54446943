import { v7 as uuid } from 'uuid'
import type { CaseDoubtFile } from '#core/contract/case-doubts'
import type { Correction } from '#core/contract/discrepancies'
import { deviceNow } from '../common/useClock'
import { useDeskStore } from './useDeskStore'
import { questionPlace } from './useDeskWork'

/** The answer to a question of the district: saved on this device like any other act, then sent. */
export function useQuestionAnswer(discrepancy: () => string) {
  const desk = useDesk()
  /** The answer that is only on this device, or that the district did not take. */
  const own = useLoad(
    async () => (await useDeskStore().unsettled(questionPlace(discrepancy()))).at(-1) ?? null,
    () => [discrepancy(), desk.changes.value],
  )
  const text = ref('')
  const busy = ref(false)
  async function answer(corrections: readonly Correction[]): Promise<void> {
    busy.value = true
    if (own.data.value) await useDeskStore().changes.remove('id', [own.data.value.id])
    await desk.saveAct(questionPlace(discrepancy()), {
      kind: 'answer',
      id: uuid(),
      madeAt: new Date(deviceNow()).toISOString(),
      discrepancy: discrepancy(),
      text: text.value,
      corrections: [...corrections],
    })
    text.value = ''
    await desk.sync()
    busy.value = false
  }
  return { own, text, busy, answer }
}

/** What the district asks about cases, each with its conversation, as the last sync brought it. */
export function useCaseQuestions() {
  const desk = useDesk()
  return useLoad(
    async () =>
      ((await useDeskStore().serverCache.get('key', 'caseConversations'))?.answer as
        CaseDoubtFile[] | undefined) ?? [],
    () => desk.changes.value,
  )
}
