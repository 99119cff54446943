import { useDebounceFn } from '@vueuse/core'

/** A search waits for this long after the last key. */
const PAUSE_MS = 250

/**
 * A search field whose text goes into the address of the page a moment after the last key, and follows the
 * address when somebody goes back.
 *
 * @param inAddress what the address holds
 * @param search puts a text there, without the spaces around it; undefined for an empty one
 * @param least fewer letters than this search for nothing
 * @example const text = useAskedText(() => asked.value.find, find => ask({ find }))
 */
export function useAskedText(
  inAddress: () => string | undefined,
  search: (text: string | undefined) => unknown,
  least = 1,
): Ref<string> {
  const text = ref(inAddress() ?? '')
  watch(inAddress, find => {
    if ((find ?? '') !== text.value.trim()) text.value = find ?? ''
  })
  const soon = useDebounceFn(() => {
    const find = text.value.trim()
    return search(find.length >= least ? find : undefined)
  }, PAUSE_MS)
  watch(text, (typed, before) => {
    if (typed.trim() !== before.trim()) void soon()
  })
  return text
}
