/** Removes parts of a definition: what something uses is asked about before, and everything can be undone. */
export function useRemoval() {
  const removed = shallowRef<{ name: string; back: () => void } | null>(null)
  const asking = shallowRef<{ name: string; uses: string[]; go: () => void } | null>(null)

  /** @param uses names of what uses it. @param act removes it, and gives what brings it back. */
  function remove(name: string, uses: readonly string[], act: () => () => void) {
    const go = () => {
      removed.value = { name, back: act() }
      asking.value = null
    }
    if (uses.length) asking.value = { name, uses: [...new Set(uses)], go }
    else go()
  }

  function undo() {
    removed.value?.back()
    removed.value = null
  }

  return { removed, asking, remove, undo }
}

export type Removal = ReturnType<typeof useRemoval>
