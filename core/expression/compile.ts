import type { Edition } from '../report/edition'
import type { ReportTable } from '../report/table'
import { bad, good, type Result } from '../result'
import { bind, type Bindings, type Narrowing } from './bind'
import { check } from './check'
import { evaluate, type EvaluationOptions } from './evaluate'
import type { ValueType } from './functions'
import { parse } from './parse'
import { scan } from './scan'
import { walk, type Node } from './syntax'

/** An expression that passed every check and can run. */
export interface Compiled {
  text: string
  tree: Node
  bindings: Bindings
  type: ValueType
  /** Keys of the cells of this period that it reads, in the order of the text. */
  cells: string[]
  run(table: ReportTable, options?: EvaluationOptions): Float64Array
}

/**
 * The passes in their order: scan, parse, bind, check. Types are checked before anything runs.
 * @returns the compiled expression, or all mistakes that the first failing pass found, each with its place.
 */
export function compile(text: string, edition: Edition, wanted?: ValueType, narrowing?: Narrowing): Result<Compiled> {
  const tokens = scan(text)
  if (!tokens.ok) return tokens
  const tree = parse(tokens.value)
  if (!tree.ok) return tree
  const { bindings, problems } = bind(tree.value, edition, narrowing)
  const checked = check(tree.value)
  const all = [...problems, ...checked.problems]
  if (wanted && all.length === 0 && checked.type !== wanted) {
    all.push({
      code: `expression-needs-${wanted}`, at: tree.value.at,
      message: wanted === 'truth' ? 'A rule must be true or false: compare something.' : 'This must be a number.',
    })
  }
  if (all.length) return bad(...all)
  return good({
    text,
    tree: tree.value,
    bindings,
    type: checked.type,
    cells: cellsNow(tree.value, bindings),
    run: (table, options) => evaluate(tree.value, bindings, table, options),
  })
}

/** The cells that are read in this period: those inside `previous` and its like are another period's. */
function cellsNow(tree: Node, bindings: Bindings): string[] {
  const earlier = new Set<Node>()
  const found = new Set<string>()
  walk(tree, (node) => {
    if (node.type === 'call' && (node.name === 'previous' || node.name === 'mean_of_last')) {
      node.args.forEach(arg => walk(arg, inner => earlier.add(inner)))
    }
    if (node.type === 'name' && !earlier.has(node)) bindings.get(node)!.cells.forEach(cell => found.add(cell))
  })
  return [...found]
}
