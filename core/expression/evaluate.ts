import { answered, sumOfCells, type ReportTable } from '../report/table'
import type { Bindings } from './bind'
import type { BinaryOperator, Node } from './syntax'

export interface EvaluationOptions {
  /** Count the blanks of named cells as zero. */
  blanksAsZero?: boolean
}

type Combine = (left: number, right: number) => number

/** NaN is blank and unknown; 1 is true, 0 is false. */
const OPERATE: Record<BinaryOperator, Combine> = {
  '+': (left, right) => left + right,
  '-': (left, right) => left - right,
  '*': (left, right) => left * right,
  '/': (left, right) => (right === 0 ? NaN : left / right),
  '=': (left, right) => (left !== left || right !== right ? NaN : +(left === right)),
  '!=': (left, right) => (left !== left || right !== right ? NaN : +(left !== right)),
  '<': (left, right) => (left !== left || right !== right ? NaN : +(left < right)),
  '<=': (left, right) => (left !== left || right !== right ? NaN : +(left <= right)),
  '>': (left, right) => (left !== left || right !== right ? NaN : +(left > right)),
  '>=': (left, right) => (left !== left || right !== right ? NaN : +(left >= right)),
  // SQL's three-valued logic: false and unknown is false, true or unknown is true.
  'and': (left, right) => (left === 0 || right === 0 ? 0 : left + right === 2 ? 1 : NaN),
  'or': (left, right) => (left === 1 || right === 1 ? 1 : left + right === 0 ? 0 : NaN),
  'implies': (left, right) => (left === 0 || right === 1 ? 1 : left === 1 && right === 0 ? 0 : NaN),
}

/**
 * Fifth pass: the value of a tree for every report of a table at once. One report is a table of length one.
 * @returns one number a report: NaN is blank (unknown for a truth), truths are 1 and 0.
 */
export function evaluate(tree: Node, bindings: Bindings, table: ReportTable, options: EvaluationOptions = {}): Float64Array {
  const size = table.size
  const constant = (value: number) => new Float64Array(size).fill(value)
  const each = (column: Float64Array, change: (value: number) => number) => column.map(change)
  const both = (left: Float64Array, right: Float64Array, combine: Combine) => {
    const result = new Float64Array(size)
    for (let row = 0; row < size; row++) result[row] = combine(left[row]!, right[row]!)
    return result
  }

  const of = (node: Node, from: ReportTable | undefined): Float64Array => {
    switch (node.type) {
      case 'number': return constant(node.value)
      case 'truth': return constant(+node.value)
      case 'minus': return each(of(node.operand, from), value => -value)
      case 'not': return each(of(node.operand, from), value => 1 - value)
      case 'binary': return both(of(node.left, from), of(node.right, from), OPERATE[node.operator])
      case 'call': return call(node, from)
      case 'name': {
        if (!from) return constant(NaN)
        const sum = sumOfCells(from, bindings.get(node)!.cells)
        return options.blanksAsZero ? each(sum, value => (Number.isNaN(value) ? 0 : value)) : sum
      }
    }
  }

  const call = (node: Extract<Node, { type: 'call' }>, from: ReportTable | undefined): Float64Array => {
    const [first, second] = node.args as [Node, Node?]
    const periods = second?.type === 'number' ? second.value : 1
    const fold = (combine: Combine) => node.args.map(arg => of(arg, from)).reduce((left, right) => both(left, right, combine))
    switch (node.name) {
      case 'abs': return each(of(first, from), Math.abs)
      case 'min': return fold(Math.min)
      case 'max': return fold(Math.max)
      case 'filled': return first.type === 'name' && from
        ? answered(from, bindings.get(first)!.cells)
        : each(of(first, from), value => +!Number.isNaN(value))
      case 'coalesce': return both(of(first, from), of(second!, from), (left, right) => (Number.isNaN(left) ? right : left))
      case 'previous': return of(first, from?.back(periods))
      case 'mean_of_last': return meanOfKnown(Array.from({ length: periods }, (_, step) => of(first, from?.back(step + 1))))
      default: throw new Error(`The function ${node.name} was not checked before it ran.`)
    }
  }

  /** The mean of those that are known; blank when none is. */
  const meanOfKnown = (columns: Float64Array[]): Float64Array =>
    Float64Array.from({ length: size }, (_, row) => {
      const known = columns.map(column => column[row]!).filter(value => !Number.isNaN(value))
      return known.length ? known.reduce((sum, value) => sum + value, 0) / known.length : NaN
    })

  return of(tree, table)
}

