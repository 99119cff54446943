/**
 * A number of rows that grows by a step each frame, up to all of them: a long list is there at once at its top,
 * and the rest follows without holding up a touch or a key.
 *
 * @param all how many there are
 * @param first so many at once: what fits on the screen of a phone
 * @param step so many more each frame
 * @returns how many are to be made now
 */
export function useGradually(all: () => number, first = 10, step = 30) {
  const made = ref(first)
  let frame = 0
  function grow() {
    frame = 0
    if (made.value >= all()) return
    made.value += step
    frame = requestAnimationFrame(grow)
  }
  // Also when the list grows later.
  watch(all, () => {
    if (!frame) frame = requestAnimationFrame(grow)
  })
  onMounted(() => {
    frame = requestAnimationFrame(grow)
  })
  onUnmounted(() => cancelAnimationFrame(frame))
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
