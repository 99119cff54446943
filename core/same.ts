import canonicalize from 'canonicalize'

/** Do two definitions say the same? The order of their keys says nothing: a database keeps its own. */
export const same = (one: unknown, other: unknown): boolean =>
  one === other || canonicalize(one) === canonicalize(other)
