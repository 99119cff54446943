/**
 * Things by a key, both in the order in which they first come: `Map.groupBy` (ECMAScript 2024), which Node 20
 * and older telephones do not have.
 */
export function groupBy<T, K>(things: Iterable<T>, keyOf: (thing: T) => K): Map<K, T[]> {
  const groups = new Map<K, T[]>()
  for (const thing of things) {
    const key = keyOf(thing)
    const group = groups.get(key)
    if (group) group.push(thing)
    else groups.set(key, [thing])
  }
  return groups
}
