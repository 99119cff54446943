import type { ReportTable } from '../report/table'
import type { Compiled } from './compile'
import { evaluate, type EvaluationOptions } from './evaluate'
import { isComparison, type Comparison, type Node } from './syntax'

/** One name of an expression with the number that stands behind it. */
export interface Term {
  item: string
  bands: string[]
  /** How many periods before this one. */
  back: number
  /** null when it is blank. */
  value: number | null
}

/** One side of a comparison: its value, and the names that it is made from. */
export interface Side {
  value: number | null
  terms: Term[]
}

/**
 * An expression with the numbers put in. A comparison at the top has two sides and what is between them:
 * “live births 64 > deliveries 46, over by 18”. Anything else has its terms only (all in `left`).
 */
export interface Explanation {
  left: Side
  right?: Side
  /** The relation that does hold between the two sides. */
  relation?: Comparison
  /** The distance between the two sides, never negative. */
  by?: number
}

const known = (value: number): number | null => (Number.isNaN(value) ? null : value)

/** Sixth pass: what the expression found for one report (a row of the table). */
export function explain(compiled: Compiled, table: ReportTable, row: number, options: EvaluationOptions = {}): Explanation {
  const { tree, bindings } = compiled
  const valueOf = (node: Node, from: ReportTable) => known(evaluate(node, bindings, from, options)[row]!)

  const termsOf = (node: Node): Term[] => {
    const terms: Term[] = []
    const collect = (inner: Node, back: number) => {
      if (inner.type === 'name') {
        const reference = bindings.get(inner)!
        const from = table.back(back)
        terms.push({ item: reference.item.code, bands: reference.bands, back, value: from ? valueOf(inner, from) : null })
      }
      else if (inner.type === 'call' && inner.name === 'previous') {
        const periods = inner.args[1]?.type === 'number' ? inner.args[1].value : 1
        collect(inner.args[0]!, back + periods)
      }
      else if (inner.type === 'call') inner.args.forEach(arg => collect(arg, back))
      else if (inner.type === 'binary') [inner.left, inner.right].forEach(child => collect(child, back))
      else if (inner.type === 'minus' || inner.type === 'not') collect(inner.operand, back)
    }
    collect(node, 0)
    return terms
  }

  if (tree.type !== 'binary' || !isComparison(tree.operator)) {
    return { left: { value: valueOf(tree, table), terms: termsOf(tree) } }
  }
  const left: Side = { value: valueOf(tree.left, table), terms: termsOf(tree.left) }
  const right: Side = { value: valueOf(tree.right, table), terms: termsOf(tree.right) }
  if (left.value === null || right.value === null) return { left, right }
  return {
    left, right,
    relation: left.value === right.value ? '=' : left.value > right.value ? '>' : '<',
    by: Math.abs(left.value - right.value),
  }
}

