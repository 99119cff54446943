import type { ReportTable } from '../report/table'
import type { Compiled } from './compile'
import { evaluate, type EvaluationOptions } from './evaluate'
import { print } from './print'
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

/**
 * One side of a comparison: its value, and what it is made from in the order of the text: the names with their
 * numbers, and the signs between them.
 */
export interface Side {
  value: number | null
  parts: (string | Term)[]
}

/**
 * An expression with the numbers put in. A comparison at the top has two sides and what is between them:
 * “live births 64 > deliveries 46, over by 18”. Anything else has its parts only (all in `left`).
 */
export interface Explanation {
  left: Side
  right?: Side
  /** The relation that does hold between the two sides. */
  relation?: Comparison
  /** The distance between the two sides, never negative. */
  by?: number
}

/** Stands around the number of a term while the text is put together; no expression can hold it. */
const MARK = '\u0001'

const known = (value: number): number | null => (Number.isNaN(value) ? null : value)

/** Sixth pass: what the expression found for one report (a row of the table). */
export function explain(compiled: Compiled, table: ReportTable, row: number, options: EvaluationOptions = {}): Explanation {
  const { tree, bindings } = compiled
  const valueOf = (node: Node, from: ReportTable) => known(evaluate(node, bindings, from, options)[row]!)

  const termOf = (name: Extract<Node, { type: 'name' }>, back: number): Term => {
    const reference = bindings.get(name)!
    const from = table.back(back)
    return { item: reference.item.code, bands: reference.bands, back, value: from ? valueOf(name, from) : null }
  }

  /** Names, also those of earlier periods, become terms; all between them stays text. */
  const sideOf = (node: Node): Side => {
    const terms: Term[] = []
    const mark = (term: Term) => `${MARK}${terms.push(term) - 1}${MARK}`
    const text = print(node, (inner) => {
      if (inner.type === 'name') return mark(termOf(inner, 0))
      if (inner.type !== 'call') return undefined
      // A mean over several periods is no one period's number: its value stands for it.
      if (inner.name === 'mean_of_last') return String(valueOf(inner, table) ?? '–')
      const [arg, periods] = inner.name === 'previous' ? inner.args : []
      return arg?.type === 'name' ? mark(termOf(arg, periods?.type === 'number' ? periods.value : 1)) : undefined
    })
    const parts = text.split(MARK).map((part, at) => (at % 2 ? terms[Number(part)]! : part)).filter(part => part !== '')
    return { value: valueOf(node, table), parts }
  }

  if (tree.type !== 'binary' || !isComparison(tree.operator)) {
    return { left: sideOf(tree) }
  }
  const left = sideOf(tree.left)
  const right = sideOf(tree.right)
  if (left.value === null || right.value === null) return { left, right }
  return {
    left, right,
    relation: left.value === right.value ? '=' : left.value > right.value ? '>' : '<',
    by: Math.abs(left.value - right.value),
  }
}

