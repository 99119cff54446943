import { bind } from './bind'
import { parse } from './parse'
import { scan } from './scan'
import { childrenOf, type Node, type Span } from './syntax'
import type { Vocabulary } from './vocabulary'

/** A code that gets another name. */
export type Renaming = { from: string; to: string } &
  /** An item; of another dataset when `source` says so; of a counted list when `list` does. */
  (
    | { what: 'item'; source?: string; list?: string }
    /** A band of an axis, at every item that has the axis. */
    | { what: 'band'; axis: string }
    /** A dataset, form or parent, before its dot. */
    | { what: 'source' }
    | { what: 'list' }
  )

/**
 * Renames a code inside an expression, and nothing else: spaces, brackets and texts stay as they were
 * written. A name is found by what it means, so that a band `f` is not taken for an item `f`.
 * @param vocabulary of before the renaming.
 */
export function renameCode(text: string, renaming: Renaming, vocabulary: Vocabulary): string {
  const { tokens, problems } = scan(text)
  const { tree } = parse(tokens, problems)
  const { bindings } = bind(tree, vocabulary)
  const places: Span[] = []
  const visit = (node: Node, list: string | undefined) => {
    if (node.type === 'name') {
      if (
        renaming.what === 'item' &&
        node.code === renaming.from &&
        node.source?.code === renaming.source &&
        list === renaming.list
      )
        places.push(node.codeAt)
      if (renaming.what === 'source' && node.source?.code === renaming.from) places.push(node.source.at)
      if (renaming.what === 'band') {
        const bands = bindings.names.get(node)?.bands ?? []
        places.push(
          ...bands.flatMap(({ axis, code, at }) =>
            at && axis === renaming.axis && code === renaming.from ? [at] : [],
          ),
        )
      }
    }
    if (node.type === 'count' && renaming.what === 'list' && node.list.code === renaming.from)
      places.push(node.list.at)
    childrenOf(node).forEach(child => visit(child, node.type === 'count' ? node.list.code : list))
  }
  visit(tree, undefined)
  return places
    .sort((one, other) => other.start - one.start)
    .reduce((changed, { start, end }) => changed.slice(0, start) + renaming.to + changed.slice(end), text)
}
