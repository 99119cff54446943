import type { ColumnTable } from '../report/table'
import { bad, good, type Result } from '../result'
import { bind, type Bindings, type Narrowing } from './bind'
import { check, type Types } from './check'
import { checkMeasures } from './check-measures'
import { signatureOf } from './functions'
import { parse } from './parse'
import { evaluateAll, type EvaluationOptions } from './prepare'
import { scan } from './scan'
import { childrenOf, type Node } from './syntax'
import type { ValueType, Vocabulary } from './vocabulary'

/** An expression that passed every check and can run. */
export interface Compiled {
  text: string
  tree: Node
  bindings: Bindings
  types: Types
  type: ValueType
  /** Keys of the cells of this report and this period that it reads, in the order of the text. */
  cells: string[]
  /** One number a row: NaN is blank (unknown for a truth), truths are 1 and 0, days are day numbers. */
  run(table: ColumnTable, options?: EvaluationOptions): Float64Array
}

/**
 * The passes in their order: scan, parse, bind, check, check measures. Types are checked before anything
 * runs.
 * @param wanted what the whole must be.
 * @returns the compiled expression, or all its mistakes, each with its place. When the text cannot be parsed,
 *   only names are looked at besides: what is missing has no type.
 */
export function compile(
  text: string,
  vocabulary: Vocabulary,
  wanted?: ValueType,
  narrowing?: Narrowing,
): Result<Compiled> {
  const { tokens, problems: scanned } = scan(text)
  const { tree, problems } = scanned.some(({ code }) => code === 'expression-too-long')
    ? { tree: null, problems: scanned }
    : parse(tokens, scanned)
  if (!tree) return bad(...problems)
  const bound = bind(tree, vocabulary, narrowing)
  problems.push(...bound.problems)
  const { types, problems: mistyped } = check(tree, bound.bindings)
  problems.push(...mistyped)
  if (problems.length === 0) problems.push(...checkMeasures(tree, bound.bindings, types))
  const type = types.get(tree)
  if (wanted && problems.length === 0 && type !== wanted) {
    problems.push({
      code: `expression-needs-${wanted}`,
      at: tree.at,
      message:
        wanted === 'truth' ? 'A rule must be true or false: compare something.' : `This must be a ${wanted}.`,
    })
  }
  if (problems.length || !type)
    return bad(...problems.sort((one, other) => placeOf(one.at) - placeOf(other.at)))
  const runnable = { tree, bindings: bound.bindings, types }
  return good({
    ...runnable,
    text,
    type,
    cells: cellsNow(tree, bound.bindings),
    run: (table, options) => evaluateAll(runnable, table, options),
  })
}

const placeOf = (at: unknown): number =>
  typeof at === 'object' && at !== null && 'start' in at ? Number(at.start) : 0

/** The cells that are read of this report: those inside `previous` and its like are another period's. */
function cellsNow(tree: Node, bindings: Bindings): string[] {
  const found = new Set<string>()
  const visit = (node: Node) => {
    if (node.type === 'count' || (node.type === 'call' && signatureOf(node.name)?.looksBack)) return
    const reference = bindings.names.get(node)
    if (reference && !reference.source) reference.cells.forEach(cell => found.add(cell))
    childrenOf(node).forEach(visit)
  }
  visit(tree)
  return [...found]
}
