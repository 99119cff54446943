import { effect, type ShallowRef } from 'vue'

/** How long after a change what only follows from it is drawn, in milliseconds. */
const SOON = 100
const waiting = new Set<() => void>()

function takeAll() {
  const all = [...waiting]
  waiting.clear()
  for (const take of all) take()
}

/**
 * A value that is read a moment after it changed: a key, and what it raises, are painted first, and what only follows
 * from them is not even computed before. All that wait have one timer, since a form may have many of them.
 *
 * @param source reads the value; what it reads is watched
 * @example const content = useSoon(() => work.contentOf(answerKey))
 */
export function useSoon<T>(source: () => T): Readonly<ShallowRef<T>> {
  // Set at once, when the effect below runs for the first time.
  const shown = shallowRef() as ShallowRef<T>
  const take = effect(
    () => {
      shown.value = source()
    },
    {
      scheduler() {
        if (!waiting.size) setTimeout(takeAll, SOON)
        waiting.add(take)
      },
    },
  )
  onScopeDispose(() => waiting.delete(take))
  return shown
}
