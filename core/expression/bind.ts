import type { Problem } from '../result'
import { FUNCTIONS, signatureOf } from './functions'
import { unknownWord } from './nearest'
import {
  childrenOf,
  type BandWord,
  type CallNode,
  type CountNode,
  type NameNode,
  type Node,
  type Span,
} from './syntax'
import type { Name, Vocabulary } from './vocabulary'

/** A band with the axis that it is one of, and its place in the text; a narrowing has none. */
export interface BoundBand {
  axis: string
  code: string
  at?: Span
}

/** What a name means: some cells of one item, here or in another dataset. */
export interface Reference {
  name: Name
  /** What stands before the dot. */
  source?: string
  bands: BoundBand[]
  /** Keys of the cells that it adds up. */
  cells: string[]
}

/** The meaning of each name and of each counted list in a tree, by its node. */
export interface Bindings {
  names: Map<Node, Reference>
  lists: Map<Node, Vocabulary>
}

/**
 * Judges a rule for one band of an axis, or of each of several: names that have the axis and say no band of
 * it mean this band.
 */
export type Narrowing = readonly { axis: string; band: string }[]

/**
 * Finds the axis of each band. A code that several axes have is resolved by the axis before its dot, or
 * because the other axes are spoken of already; else it is refused: summed over both, it would count some
 * people twice.
 */
function bindBands(
  asked: readonly BandWord[],
  { code: name, axes }: Name,
): { bands: BoundBand[]; problems: Problem[] } {
  const problems: Problem[] = []
  const having = (band: string) =>
    axes.filter(axis => axis.bands.some(({ code }) => code === band)).map(({ code }) => code)
  const known = axes.flatMap(axis => axis.bands.map(band => band.code))
  const bands: BoundBand[] = []
  let open: BandWord[] = []
  for (const band of asked) {
    const of = having(band.code)
    if (of.length === 0)
      problems.push(unknownWord('expression-no-band', `band of ${name}`, band.code, band.at, known))
    else if (band.axis && !of.includes(band.axis.code))
      problems.push(
        unknownWord(
          'expression-no-band',
          `axis with the band ${band.code}`,
          band.axis.code,
          band.axis.at,
          of,
        ),
      )
    else if (band.axis || of.length === 1)
      bands.push({ axis: band.axis?.code ?? of[0]!, code: band.code, at: band.at })
    else open.push(band)
  }
  // As many words of a code as axes are left for it: each is one of them.
  const free = (band: BandWord) => having(band.code).filter(axis => !bands.some(bound => bound.axis === axis))
  const settled = () =>
    open.find(band => free(band).length <= open.filter(({ code }) => code === band.code).length)
  for (let band = settled(); band; band = settled()) {
    const [axis] = free(band)
    if (axis) bands.push({ axis, code: band.code, at: band.at })
    open = open.filter(other => other !== band)
  }
  for (const band of open) {
    const hint = having(band.code).map(axis => `${axis}.${band.code}`)
    problems.push({
      code: 'expression-band-two-axes',
      at: band.at,
      values: { word: band.code, hint: hint.join(', ') },
      message: `“${band.code}” is a band of several axes of ${name}. Write ${hint.join(' or ')}.`,
    })
  }
  return { bands, problems }
}

/**
 * Third pass: finds what each name means. Reports every unknown name, band, list and function, not only the
 * first.
 */
export function bind(
  tree: Node,
  vocabulary: Vocabulary,
  narrowing: Narrowing = [],
): { bindings: Bindings; problems: Problem[] } {
  const bindings: Bindings = { names: new Map(), lists: new Map() }
  const problems: Problem[] = []

  const bindCall = (node: CallNode, here: Vocabulary) => {
    if (
      here.noPeriods &&
      (signatureOf(node.name)?.looksBack || node.name === 'period_start' || node.name === 'period_end')
    ) {
      problems.push({
        code: 'expression-no-period',
        message: `There are no periods here that ${node.name} could look at.`,
        at: node.nameAt,
        values: { word: node.name },
      })
    }
    if (signatureOf(node.name)) return
    problems.push(
      unknownWord('expression-no-function', 'function', node.name, node.nameAt, Object.keys(FUNCTIONS)),
    )
  }

  const bindCount = (node: CountNode, here: Vocabulary): Vocabulary | undefined => {
    if (!node.list.code) return undefined // told by the parser
    const list = here.lists.get(node.list.code)
    if (list) bindings.lists.set(node, list)
    else
      problems.push(
        unknownWord(
          'expression-no-list',
          'case register or repeat',
          node.list.code,
          node.list.at,
          here.lists.keys(),
        ),
      )
    return list
  }

  const bindName = (node: NameNode, here: Vocabulary) => {
    const of = node.source ? here.others.get(node.source.code) : here
    if (!of) {
      problems.push(
        unknownWord(
          'expression-no-source',
          'dataset or form',
          node.source!.code,
          node.source!.at,
          here.others.keys(),
        ),
      )
      return
    }
    const name = of.names.get(node.code)
    if (!name) {
      problems.push(unknownWord('expression-no-item', 'item', node.code, node.codeAt, of.names.keys()))
      return
    }
    const { bands, problems: unbound } = bindBands(node.bands, name)
    problems.push(...unbound)
    for (const { axis, band } of node.source ? [] : narrowing) {
      if (name.axes.some(({ code }) => code === axis) && !bands.some(bound => bound.axis === axis))
        bands.push({ axis, code: band })
    }
    const places = new Map(name.axes.map((axis, at) => [axis.code, at]))
    const cells = name.cells.filter(cell =>
      bands.every(({ axis, code }) => cell.bands[places.get(axis)!] === code),
    )
    if (cells.length === 0 && unbound.length === 0) {
      problems.push({
        code: 'expression-no-cell',
        message: `No cell of ${name.code} is in all of these bands.`,
        at: node.at,
        values: { word: name.code },
      })
    }
    bindings.names.set(node, {
      name,
      ...(node.source && { source: node.source.code }),
      bands,
      cells: cells.map(cell => cell.key),
    })
  }

  const visit = (node: Node, here: Vocabulary) => {
    if (node.type === 'call') bindCall(node, here)
    if (node.type === 'name') bindName(node, here)
    // The names of a condition are those of the list that is counted.
    const below = node.type === 'count' ? bindCount(node, here) : here
    if (below) for (const child of childrenOf(node)) visit(child, below)
  }
  visit(tree, vocabulary)
  return { bindings, problems }
}
