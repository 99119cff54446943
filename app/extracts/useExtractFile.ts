import { useIntervalFn } from '@vueuse/core'
import type { ExtractFileLine, FileAsk } from '#core/contract/extracts'

/** How often a file that is being made is looked at. */
const LOOK_MS = 1_000

/** A file that is asked for: followed until it is ready, and stopped. */
export function useExtractFile() {
  const file = shallowRef<ExtractFileLine | null>(null)
  const { busy, problem, run } = useAct()
  const isMade = computed(() => file.value?.state === 'waiting')
  const ask = (extracts: FileAsk['extracts']) =>
    run(async () => {
      file.value = await callApi('POST /api/extract-files', { body: { extracts } })
    })
  const stop = () =>
    run(async () => {
      file.value = await callApi('POST /api/extract-files/:id/stop', { params: { id: file.value!.id } })
    })
  useIntervalFn(() => {
    if (!isMade.value) return
    void run(async () => {
      file.value = await callApi('GET /api/extract-files/:id', { params: { id: file.value!.id } })
    })
  }, LOOK_MS)
  return { file, busy, problem, isMade, ask, stop }
}
