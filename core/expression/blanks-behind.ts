import type { ColumnTable } from '../report/table'
import { KIND_CODES, NO_REPORT } from '../report/table'
import { periodsBack, signatureOf } from './functions'
import type { Runnable } from './prepare'
import { childrenOf, type Node } from './syntax'

/** A cell that holds no value, where an expression wanted one. */
export interface BlankCell {
  cell: string
  /** How many periods before this one. */
  back: number
  /** Another dataset or form that it belongs to. */
  source?: string
  kind: 'blank' | 'notKnown' | 'notOffered' | 'noReport'
}

const KIND_OF: Record<number, BlankCell['kind']> = {
  [NO_REPORT]: 'noReport',
  [KIND_CODES.blank]: 'blank',
  [KIND_CODES.notKnown]: 'notKnown',
  [KIND_CODES.notOffered]: 'notOffered',
}

/**
 * The blanks that an expression reads at a row: why a rule was not judged there. Arguments of `filled` do not
 * count.
 */
export function blanksBehind(
  { tree, bindings }: Pick<Runnable, 'tree' | 'bindings'>,
  table: ColumnTable,
  row: number,
): BlankCell[] {
  const found = new Map<string, BlankCell>()
  const visit = (node: Node, back: number) => {
    if (node.type === 'count' || (node.type === 'call' && node.name === 'filled')) return
    const reference = bindings.names.get(node)
    if (reference) {
      const period = back === 0 ? table : table.back?.(back)
      const from = reference.source ? period?.other?.(reference.source) : period
      const kinds = reference.cells.map(cell => from?.kinds(cell)[row])
      // A service that is not offered is left out of a sum; it is in the way only where nothing else is left.
      const none = kinds.every(kind => kind === KIND_CODES.notOffered)
      reference.cells.forEach((cell, at) => {
        const kind = kinds[at]
        if (kind === KIND_CODES.value || (kind === KIND_CODES.notOffered && !none)) return
        found.set(`${reference.source ?? ''} ${cell} ${back}`, {
          cell,
          back,
          ...(reference.source && { source: reference.source }),
          kind: kind === undefined ? 'noReport' : KIND_OF[kind]!,
        })
      })
    }
    if (node.type !== 'call' || !signatureOf(node.name)?.looksBack) {
      childrenOf(node).forEach(child => visit(child, back))
      return
    }
    const periods = periodsBack(node)
    const backs =
      node.name === 'previous'
        ? [periods]
        : node.name === 'year_before'
          ? []
          : Array.from({ length: periods }, (_, step) => step + 1)
    backs.forEach(further => visit(node.args[0]!, back + further))
  }
  visit(tree, 0)
  return [...found.values()]
}
