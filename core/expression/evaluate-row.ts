import type { ColumnTable } from '../report/table'
import { prepare, Scratch, type EvaluationOptions, type Runnable } from './prepare'
import { textOf } from './texts'

export type { EvaluationOptions } from './prepare'

/**
 * The value of a checked expression at one row of a table, without the others: a number, a text, or null for
 * blank.
 */
export function evaluateRow(
  runnable: Runnable,
  table: ColumnTable,
  row: number,
  options: EvaluationOptions = {},
): number | string | null {
  const { tree, bindings, types } = runnable
  const type = types.get(tree)
  if (type === 'text' || type === 'answers') {
    return textOf(tree, table, { bindings, truthOf: (node, of) => prepareTruths(node, of) })(row)
  }
  const { steps, root } = prepare(runnable, table, options, new Scratch(1))
  for (const step of steps) step(row, 1)
  const value = root.data[root.kind === 'column' ? row : 0]!
  return Number.isNaN(value) ? null : value

  function prepareTruths(node: typeof tree, of: ColumnTable): Float64Array {
    const truths = new Float64Array(of.size).fill(NaN)
    truths[row] = Number(evaluateRow({ tree: node, bindings, types }, of, row, options) ?? NaN)
    return truths
  }
}
