import { distance } from 'fastest-levenshtein'
import { axesOf, cellsOfItem, itemsOf, type Edition, type Item } from '../report/edition'
import type { Problem } from '../result'
import { FUNCTIONS } from './functions'
import { walk, type Node, type Span } from './syntax'

/** What a name means: some cells of one item. */
export interface Reference {
  item: Item
  bands: string[]
  /** Keys of the cells that it adds up. */
  cells: string[]
}

/** The meaning of each name in a tree, by its node. */
export type Bindings = Map<Node, Reference>

/** Judges a rule for one band of an axis: names that have the axis and say no band of it mean this band. */
export interface Narrowing {
  axis: string
  band: string
}

/** The known word nearest to a misspelt one, when it is near enough to be meant. */
export function nearest(word: string, known: Iterable<string>): string | undefined {
  let best: string | undefined
  let fewest = Math.max(2, Math.floor(word.length / 3)) + 1
  for (const candidate of known) {
    const edits = distance(word.toLowerCase(), candidate.toLowerCase())
    if (edits < fewest) {
      fewest = edits
      best = candidate
    }
  }
  return best
}

function unknown(code: string, what: string, word: string, at: Span, known: Iterable<string>): Problem {
  const hint = nearest(word, known)
  return {
    code: hint ? `${code}-near` : code,
    message: `There is no ${what} “${word}”.${hint ? ` Is “${hint}” meant?` : ''}`,
    at,
    values: hint ? { word, hint } : { word },
  }
}

/** Third pass: finds what each name means. Reports every unknown name, band and function, not only the first. */
export function bind(tree: Node, edition: Edition, narrowing?: Narrowing): { bindings: Bindings; problems: Problem[] } {
  const items = new Map(itemsOf(edition).map(item => [item.code, item]))
  const bindings: Bindings = new Map()
  const problems: Problem[] = []
  walk(tree, (node) => {
    if (node.type === 'call' && !Object.hasOwn(FUNCTIONS, node.name)) {
      problems.push(unknown('expression-no-function', 'function', node.name, node.nameAt, Object.keys(FUNCTIONS)))
    }
    if (node.type !== 'name') return
    const item = items.get(node.code)
    if (!item) {
      problems.push(unknown('expression-no-item', 'item', node.code, node.codeAt, items.keys()))
      return
    }
    const axes = axesOf(edition, item)
    const known = axes.flatMap(axis => axis.bands.map(band => band.code))
    for (const band of node.bands) {
      if (!known.includes(band.code)) {
        problems.push(unknown('expression-no-band', `band of ${item.code}`, band.code, band.at, known))
      }
    }
    const named = node.bands.map(band => band.code)
    const narrowedAxis = axes.find(axis => axis.code === narrowing?.axis)
    const bands = narrowing && narrowedAxis && !narrowedAxis.bands.some(band => named.includes(band.code))
      ? [...named, narrowing.band]
      : named
    const cells = cellsOfItem(edition, item)
      .filter(cell => bands.every(band => cell.bands.some(own => own.code === band)))
    if (cells.length === 0 && problems.length === 0) {
      problems.push({ code: 'expression-no-cell', message: `No cell of ${item.code} is in all of these bands.`, at: node.at, values: { word: item.code } })
    }
    bindings.set(node, { item, bands, cells: cells.map(cell => cell.key) })
  })
  return { bindings, problems }
}
