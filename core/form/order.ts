/**
 * Puts things into an order in which each comes after all that it depends on, else as they stood.
 * @param dependsOn for each thing the places of those that it depends on.
 * @returns the places in order, or the first ring that was found (its last place is its first again).
 */
export function orderOf(dependsOn: readonly (readonly number[])[]): { order: number[] } | { ring: number[] } {
  const order: number[] = []
  const state = new Uint8Array(dependsOn.length) // 0 not seen, 1 on the trail, 2 in order
  for (let start = 0; start < dependsOn.length; start++) {
    // By hand instead of by recursion: a chain may be as long as the form.
    const trail: { place: number; next: number }[] = state[start] ? [] : [{ place: start, next: 0 }]
    while (trail.length) {
      const top = trail.at(-1)!
      state[top.place] = 1
      const below = dependsOn[top.place]![top.next++]
      if (below === undefined) {
        state[top.place] = 2
        order.push(top.place)
        trail.pop()
      } else if (state[below] === 1) {
        const places = trail.map(({ place }) => place)
        return { ring: [...places.slice(places.indexOf(below)), below] }
      } else if (state[below] === 0) trail.push({ place: below, next: 0 })
    }
  }
  return { order }
}
