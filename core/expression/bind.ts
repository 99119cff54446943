import type { Problem } from '../result'
import { FUNCTIONS } from './functions'
import { unknownWord } from './nearest'
import { childrenOf, type CallNode, type CountNode, type NameNode, type Node } from './syntax'
import type { Name, Vocabulary } from './vocabulary'

/** What a name means: some cells of one item, here or in another dataset. */
export interface Reference {
  name: Name
  /** What stands before the dot. */
  source?: string
  bands: string[]
  /** Keys of the cells that it adds up. */
  cells: string[]
}

/** The meaning of each name and of each counted list in a tree, by its node. */
export interface Bindings {
  names: Map<Node, Reference>
  lists: Map<Node, Vocabulary>
}

/** Judges a rule for one band of an axis: names that have the axis and say no band of it mean this band. */
export interface Narrowing {
  axis: string
  band: string
}

/** Third pass: finds what each name means. Reports every unknown name, band, list and function, not only the first. */
export function bind(tree: Node, vocabulary: Vocabulary, narrowing?: Narrowing): { bindings: Bindings; problems: Problem[] } {
  const bindings: Bindings = { names: new Map(), lists: new Map() }
  const problems: Problem[] = []

  const bindCall = (node: CallNode) => {
    if (Object.hasOwn(FUNCTIONS, node.name)) return
    problems.push(unknownWord('expression-no-function', 'function', node.name, node.nameAt, Object.keys(FUNCTIONS)))
  }

  const bindCount = (node: CountNode, here: Vocabulary): Vocabulary | undefined => {
    if (!node.list.code) return undefined // told by the parser
    const list = here.lists.get(node.list.code)
    if (list) bindings.lists.set(node, list)
    else problems.push(unknownWord('expression-no-list', 'case register or repeat', node.list.code, node.list.at, here.lists.keys()))
    return list
  }

  const bindName = (node: NameNode, here: Vocabulary) => {
    const of = node.source ? here.others.get(node.source.code) : here
    if (!of) {
      problems.push(unknownWord('expression-no-source', 'dataset or form', node.source!.code, node.source!.at, here.others.keys()))
      return
    }
    const name = of.names.get(node.code)
    if (!name) {
      problems.push(unknownWord('expression-no-item', 'item', node.code, node.codeAt, of.names.keys()))
      return
    }
    const known = name.axes.flatMap(axis => axis.bands.map(band => band.code))
    const wrong = node.bands.filter(band => !known.includes(band.code))
    problems.push(...wrong.map(band => unknownWord('expression-no-band', `band of ${name.code}`, band.code, band.at, known)))
    const named = node.bands.map(band => band.code)
    const narrowedAxis = node.source ? undefined : name.axes.find(axis => axis.code === narrowing?.axis)
    const bands = narrowing && narrowedAxis && !narrowedAxis.bands.some(band => named.includes(band.code))
      ? [...named, narrowing.band]
      : named
    const cells = name.cells.filter(cell => bands.every(band => cell.bands.includes(band)))
    if (cells.length === 0 && wrong.length === 0) {
      problems.push({ code: 'expression-no-cell', message: `No cell of ${name.code} is in all of these bands.`, at: node.at, values: { word: name.code } })
    }
    bindings.names.set(node, { name, ...(node.source && { source: node.source.code }), bands, cells: cells.map(cell => cell.key) })
  }

  const visit = (node: Node, here: Vocabulary) => {
    if (node.type === 'call') bindCall(node)
    if (node.type === 'name') bindName(node, here)
    // The names of a condition are those of the list that is counted.
    const below = node.type === 'count' ? bindCount(node, here) : here
    if (below) for (const child of childrenOf(node)) visit(child, below)
  }
  visit(tree, vocabulary)
  return { bindings, problems }
}
