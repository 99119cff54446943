import { effect, type ShallowRef } from 'vue'

/** How long after a change what only follows from it is drawn, in milliseconds. */
const SOON = 100
const waiting = new Set<() => void>()
let isTimed = false

function startTimer() {
  isTimed = true
  setTimeout(takeAll, SOON)
}

function takeAll() {
  try {
    // What a task changes may be shown by another: a set is gone through with what is added meanwhile.
    for (const task of waiting) {
      waiting.delete(task)
      task()
    }
  } finally {
    isTimed = false
    // A task failed: the others are not left behind.
    if (waiting.size) startTimer()
  }
}

/** Does a task a moment later, once, however often it was asked for. All that wait have one timer. */
export function soon(task: () => void): void {
  waiting.add(task)
  if (!isTimed) startTimer()
}

/**
 * A value that is read a moment after it changed: a key, and what it raises, are painted first, and what only follows
 * from them is not even computed before.
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
    { scheduler: () => soon(take) },
  )
  onScopeDispose(() => waiting.delete(take))
  return shown
}
