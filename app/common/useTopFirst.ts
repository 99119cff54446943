import { computed, shallowRef, watch } from 'vue'
import { whenDrawn } from './whenDrawn'

/**
 * A list whose top changes at once, and the rest as soon as that is on the screen: a slow phone answers a touch or a
 * letter sooner by what nobody sees without scrolling.
 *
 * @param list what is shown in the end
 * @param first how many fill a screen
 * @returns what is to be shown now
 * @example const cards = useTopFirst(() => found.value, 6)
 */
export function useTopFirst<T>(list: () => readonly T[], first: number) {
  const rest = shallowRef<readonly T[]>([])
  watch(
    list,
    async () => {
      await whenDrawn()
      rest.value = list().slice(first)
    },
    { immediate: true },
  )
  return computed(() => {
    const top = list().slice(0, first)
    return top.length < first ? top : [...top, ...rest.value]
  })
}
