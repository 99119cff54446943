import type { Load } from './useLoad'

/** One page of a list. */
interface Page<Line> {
  lines: Line[]
  more: boolean
}

/**
 * A list that comes in pages: `reload` brings as many as are shown, `showMore` the next one. What else an
 * answer says is that of the first page.
 *
 * @param fetchPage fetches the page after a line; the first one without it
 * @param when loads anew, from the first page, whenever it changes
 */
export function usePages<Line, Answer extends Page<Line>>(
  fetchPage: (after: Line | undefined) => Promise<Answer>,
  when?: () => unknown,
): Load<Answer> & { showMore: () => Promise<void> } {
  const shown = ref(1)
  const load = useLoad(async () => {
    let whole = await fetchPage(undefined)
    for (let page = 1; page < shown.value && whole.more; page++) whole = await withNext(whole)
    return whole
  }, when)
  watch(
    () => when?.(),
    () => {
      shown.value = 1
    },
    { flush: 'sync' },
  )

  async function withNext(whole: Answer): Promise<Answer> {
    const { lines, more } = await fetchPage(whole.lines.at(-1))
    return { ...whole, lines: [...whole.lines, ...lines], more }
  }

  async function showMore(): Promise<void> {
    const whole = load.data.value
    if (!whole?.more) return
    const longer = await withNext(whole)
    // Somebody chose another list meanwhile.
    if (load.data.value !== whole) return
    shown.value++
    load.data.value = longer
  }
  return { ...load, showMore }
}
