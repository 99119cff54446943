import { promiseTimeout } from '@vueuse/core'
import { isTyping } from './typing'
import { whenDrawn } from './whenDrawn'

/** How often it is asked whether somebody still types, in milliseconds. */
const ASKED_MS = 250

/**
 * A number of rows that grows by a step at a time, up to all of them: a long list is there at once at its top,
 * and the rest follows without holding up a touch or a key. Each step waits until the one before is on the screen;
 * while somebody types, only the rows that are needed are made.
 *
 * @param all how many there are; it may grow later
 * @param needed so many must be there whatever happens: those after the one that the person is in
 * @param first so many at once: what fits on the screen of a phone
 * @param step so many more each time
 * @returns how many are to be made now
 */
export function useGradually(all: () => number, needed: () => number, first = 10, step = 30) {
  const made = ref(first)
  let isGone = false
  let isGrowing = false
  async function grow() {
    if (isGrowing) return
    isGrowing = true
    while (!isGone && made.value < all()) {
      await whenDrawn()
      if (isTyping() && made.value >= needed()) await promiseTimeout(ASKED_MS)
      else made.value += step
    }
    isGrowing = false
  }
  watch(all, grow)
  onMounted(grow)
  onUnmounted(() => {
    isGone = true
  })
  return made
}

/** Frames after which what is not there will not come. */
const MOST_FRAMES = 200

/** Puts the focus on an element as soon as it is made. */
export function focusWhenMade(css: string, left = MOST_FRAMES): void {
  const element = document.querySelector<HTMLElement>(css)
  if (element) element.focus()
  else if (left > 0) requestAnimationFrame(() => focusWhenMade(css, left - 1))
}
