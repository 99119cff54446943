import { useEventListener, useTimeoutFn } from '@vueuse/core'

const TOUCHES = ['pointerdown', 'keydown', 'scroll'] satisfies (keyof WindowEventMap)[]

/**
 * Does something once nobody has touched the page for so many minutes. A touch or a key only notes when it came: to
 * start a timer anew at each takes a slow phone half a millisecond.
 *
 * @param minutes how long; it may change
 * @example whenUntouched(() => settings.lockMinutes, lock)
 */
export function whenUntouched(minutes: () => number, act: () => void): void {
  let touchedAt = performance.now()
  const left = () => minutes() * 60_000 - (performance.now() - touchedAt)
  const timer = useTimeoutFn(() => {
    if (left() > 0) timer.start()
    else act()
  }, left)
  const note = () => {
    touchedAt = performance.now()
    if (!timer.isPending.value) timer.start()
  }
  useEventListener(TOUCHES, note, { passive: true })
  watch(minutes, () => timer.start())
}
