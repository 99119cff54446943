import { promiseTimeout } from '@vueuse/core'
import { isTyping } from './typing'
import { whenDrawn } from './whenDrawn'

/** How often it is asked whether somebody still types, in milliseconds. */
const ASKED_MS = 250

/** How a list grows. */
export interface Growth {
  /** How many rows there are; it may grow later. */
  all: () => number
  /** So many must be there whatever happens: those after the one that the person is in. */
  needed?: () => number
  /** Whether somebody looks at the end of what is made, or near it. Else it does not grow beyond what is needed. */
  isNear?: () => boolean
  /** So many at once: what fits on the screen of a phone. */
  first?: number
  /** So many more each time. */
  step?: number
}

/**
 * A number of rows that grows by a step at a time: a long list is there at once at its top, and the rest follows
 * without holding up a touch or a key. Each step waits until the one before is on the screen; while somebody types,
 * only the rows that are needed are made.
 * @returns how many are to be made now
 * @example const made = useGradually({ all: () => rows.length, needed: () => rowNow.value + 20 })
 */
export function useGradually({
  all,
  needed = () => 0,
  isNear = () => true,
  first = 10,
  step = 30,
}: Growth): Readonly<Ref<number>> {
  const made = ref(first)
  let isGone = false
  let isGrowing = false
  const isNeeded = () => made.value < needed()
  async function grow() {
    if (isGrowing) return
    isGrowing = true
    while (!isGone && made.value < all() && (isNeeded() || isNear())) {
      await whenDrawn()
      if (isTyping() && !isNeeded()) await promiseTimeout(ASKED_MS)
      else made.value += step
    }
    isGrowing = false
  }
  watch([all, needed, isNear], grow)
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
