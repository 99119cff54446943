import type { LookBack } from '../report/period-table'
import type { Compiled } from './compile'
import { periodsBack, signatureOf } from './functions'
import { childrenOf, type Node } from './syntax'

/** What an expression reads. */
export interface Dependencies {
  /** Codes of this dataset's items (this form's questions). */
  items: string[]
  /** Cells of this report in this period. */
  cells: string[]
  /** Cells by the other dataset or form that they are read from. */
  others: Record<string, string[]>
  /** Case registers and repeats that are counted. */
  lists: string[]
  /** The codes that the conditions of counts read of what they count. */
  counted: string[]
  /** How far it looks back, by the number of `year_before` on the way. */
  lookBack: LookBack
  today: boolean
}

/**
 * Lists what an expression depends on: what must be there to judge it, and what asks for judging it again.
 */
export function dependsOn({
  tree,
  bindings,
  cells,
}: Pick<Compiled, 'tree' | 'bindings' | 'cells'>): Dependencies {
  const items = new Set<string>()
  const others = new Map<string, Set<string>>()
  const lists = new Set<string>()
  const countedItems = new Set<string>()
  const lookBack: number[] = [0]
  const found = { today: false }
  const visit = (node: Node, back: number, years: number, counted: boolean) => {
    const reference = bindings.names.get(node)
    if (reference?.source) {
      const known = others.get(reference.source) ?? new Set()
      reference.cells.forEach(cell => known.add(cell))
      others.set(reference.source, known)
    } else if (reference) (counted ? countedItems : items).add(reference.name.code)
    if (node.type === 'count') lists.add(node.list.code)
    let further = back
    let earlier = years
    if (node.type === 'call') {
      if (node.name === 'today') found.today = true
      if (node.name === 'year_before') earlier++
      else if (signatureOf(node.name)?.looksBack) further += periodsBack(node)
    }
    lookBack[earlier] = Math.max(lookBack[earlier] ?? 0, further)
    childrenOf(node).forEach(child => visit(child, further, earlier, counted || node.type === 'count'))
  }
  visit(tree, 0, 0, false)
  return {
    items: [...items],
    cells,
    lists: [...lists],
    counted: [...countedItems],
    lookBack: Array.from(lookBack, back => back ?? 0),
    ...found,
    others: Object.fromEntries([...others].map(([source, keys]) => [source, [...keys]])),
  }
}
