import { printDay } from '../calendar/day'
import { distanceBetween, nearlyEqual, withoutNoise } from '../nearly-equal'
import type { ColumnTable } from '../report/table'
import type { Compiled } from './compile'
import { evaluateRow, type EvaluationOptions } from './evaluate-row'
import { periodsBack } from './functions'
import { print } from './print'
import {
  isComparison,
  walk,
  type Comparison,
  type CountNode,
  type NameNode,
  type Node,
  type Span,
} from './syntax'

/** One name of an expression, or one count, with what stands behind it. */
export interface Term {
  /** The item, or the register whose cases are counted. */
  item: string
  /** Another dataset or form that it comes from. */
  source?: string
  /** The count as it is printed: `count(measles_cases where age_years < 5)`. */
  count?: string
  /** The number of a supervisor's recount of the item. */
  recounted?: true
  bands: string[]
  /** How many periods before this one. */
  back: number
  /** null when it is blank; a text is itself, a day is ISO 8601. */
  value: number | string | boolean | null
}

/**
 * One side of a comparison: its value, and what it is made from in the order of the text: the names with
 * their numbers, and the signs between them.
 */
export interface Side {
  value: number | string | boolean | null
  parts: (string | Term)[]
}

/** Something that a reader of the result must know. */
export interface Note {
  code: 'division-by-zero'
  /** The part of the text that was zero. */
  at: Span
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
  /** The distance between the two sides, never negative; days for days. Texts have none. */
  by?: number
  notes?: Note[]
}

/** Stands around the number of a term while the text is put together; no expression can hold it. */
const MARK = '\u0001'

/** Sixth pass: what the expression found for one report (a row of the table). */
export function explain(
  compiled: Compiled,
  table: ColumnTable,
  row: number,
  options: EvaluationOptions = {},
): Explanation {
  const { tree, bindings, types } = compiled
  const valueOf = (node: Node, from: ColumnTable = table) => {
    const value = evaluateRow({ tree: node, bindings, types }, from, row, options)
    if (typeof value !== 'number') return value
    if (types.get(node) === 'truth' && node.type === 'name') return value === 1
    return types.get(node) === 'day' ? printDay(value) : withoutNoise(value)
  }

  const termOf = (node: NameNode | CountNode, back: number): Term => {
    const from = back === 0 ? table : table.back?.(back)
    const value = from ? valueOf(node, from) : null
    if (node.type === 'count') return { item: node.list.code, count: print(node), bands: [], back, value }
    const { name, source, bands } = bindings.names.get(node)!
    // A code that two axes have is named with its axis, as in the text.
    const isShared = (code: string) =>
      name.axes.filter(axis => axis.bands.some(band => band.code === code)).length > 1
    return {
      item: name.code,
      ...(source && { source }),
      bands: bands.map(({ axis, code }) => (isShared(code) ? `${axis}.${code}` : code)),
      back,
      value,
    }
  }

  /** Names and counts, also those of earlier periods, become terms; all between them stays text. */
  const sideOf = (node: Node): Side => {
    const terms: Term[] = []
    const mark = (term: Term) => `${MARK}${terms.push(term) - 1}${MARK}`
    const text = print(node, inner => {
      if (inner.type === 'name' || inner.type === 'count') return mark(termOf(inner, 0))
      if (inner.type !== 'call') return undefined
      // What is made from several periods, or from days, is no one cell's number: its value stands for it.
      if (
        [
          'mean_of_last',
          'sum_of_last',
          'year_before',
          'today',
          'period_start',
          'period_end',
          'date',
        ].includes(inner.name)
      )
        return String(valueOf(inner) ?? '–')
      const [arg] = inner.name === 'previous' ? inner.args : []
      return arg?.type === 'name' || arg?.type === 'count' ? mark(termOf(arg, periodsBack(inner))) : undefined
    })
    const parts = text
      .split(MARK)
      .map((part, at) => (at % 2 ? terms[Number(part)]! : part))
      .filter(part => part !== '')
    return { value: valueOf(node), parts }
  }

  const notes = notesOf(tree, node => valueOf(node))
  const noted = notes.length ? { notes } : {}
  if (tree.type !== 'binary' || !isComparison(tree.operator)) return { left: sideOf(tree), ...noted }
  const left = sideOf(tree.left)
  const right = sideOf(tree.right)
  const isTruth = types.get(tree.left) === 'truth'
  const between = isTruth ? {} : distance(valueAt(tree.left), valueAt(tree.right))
  return { left, right, ...between, ...noted }

  function valueAt(node: Node) {
    return evaluateRow({ tree: node, bindings, types }, table, row, options)
  }
}

function distance(
  left: number | string | null,
  right: number | string | null,
): Pick<Explanation, 'relation' | 'by'> {
  if (left === null || right === null) return {}
  if (typeof left === 'string' || typeof right === 'string') return { relation: left === right ? '=' : '!=' }
  const by = distanceBetween(left, right)
  return { relation: by === 0 ? '=' : left > right ? '>' : '<', by }
}

const isZero = (value: unknown) => typeof value === 'number' && nearlyEqual(value, 0)

/** Where a division by zero made a blank. Inside a count the rows are not this report's. */
function notesOf(tree: Node, valueOf: (node: Node) => unknown): Note[] {
  const notes: Note[] = []
  const counted = new Set<Node>()
  walk(tree, node => {
    if (node.type === 'count' && node.where) walk(node.where, inner => counted.add(inner))
    if (node.type === 'binary' && node.operator === '/' && !counted.has(node) && isZero(valueOf(node.right)))
      notes.push({ code: 'division-by-zero', at: node.right.at })
  })
  return notes
}
