import { parseDay } from '../calendar/day'
import { monthsBetween, yearsBetween } from '../calendar/age'
import { addCells, answered, KIND_CODES, type ColumnTable } from '../report/table'
import { floorNear } from '../nearly-equal'
import { must } from '../result'
import type { Bindings } from './bind'
import { periodsBack } from './functions'
import type { Types } from './check'
import { LOOPS, type Loop } from './kernels'
import { parsePattern } from './pattern'
import { print } from './print'
import type { CallNode, CountNode, NameNode, Node } from './syntax'
import { textOf, type TextReader } from './texts'

/** What is needed of a checked expression to run it. */
export interface Runnable {
  tree: Node
  bindings: Bindings
  types: Types
}

export interface EvaluationOptions {
  /** Count the blanks of named cells as zero. *Not known* stays unknown. */
  blanksAsZero?: boolean
  /** The day number of today; blank when it is not given. */
  today?: number
}

/** So many rows at a time: their columns and what is in between stay in the processor's nearest cache. */
export const BLOCK = 1024

/**
 * Where the numbers of a node are for the present block: a column of the table, which goes along with the
 * rows, or a scratch column that is filled anew for each block.
 */
export interface Source {
  data: Float64Array
  kind: 'column' | 'scratch' | 'constant'
}

/** Fills scratch columns for `length` rows from `start`. */
export type Step = (start: number, length: number) => void

/** Scratch columns that expressions share: one is free again when the node above has read it. */
export class Scratch {
  private readonly length: number
  /** @param rows how many there are in all. A single report, at each key, needs no whole block. */
  constructor(rows: number) {
    this.length = Math.min(rows, BLOCK)
  }

  private readonly free: Float64Array[] = []
  private readonly constants = new Map<number, Source>()

  take(): Source {
    return { data: this.free.pop() ?? new Float64Array(this.length), kind: 'scratch' }
  }

  giveBack(...sources: Source[]): void {
    for (const { kind, data } of sources) if (kind === 'scratch') this.free.push(data)
  }

  constant(value: number): Source {
    let found = this.constants.get(value)
    if (!found)
      this.constants.set(
        value,
        (found = { data: new Float64Array(this.length).fill(value), kind: 'constant' }),
      )
    return found
  }
}

/**
 * An expression laid out for one table: its steps, in the order in which they run, and where the result is.
 */
export interface Program {
  steps: Step[]
  root: Source
}

/**
 * Compiles a tree for a table, as steps over columns. The types say which nodes are texts; those are read row
 * by row.
 */
export function prepare(
  { tree, bindings, types }: Runnable,
  table: ColumnTable,
  options: EvaluationOptions,
  scratch: Scratch,
): Program {
  const steps: Step[] = []
  const at = (source: Source, start: number) => (source.kind === 'column' ? start : 0)
  const column = (data: Float64Array): Source => ({ data, kind: 'column' })
  const isText = (node: Node) => types.get(node) === 'text' || types.get(node) === 'answers'
  const texts = (node: Node, from: ColumnTable | undefined): TextReader =>
    textOf(node, from, {
      bindings,
      truthOf: (inner, of) => evaluateAll({ tree: inner, bindings, types }, of, options),
    })

  /** A step that writes one number a row from a function of the row. */
  const byRow = (value: (row: number) => number): Source => {
    const out = scratch.take()
    steps.push((start, length) => {
      for (let k = 0; k < length; k++) out.data[k] = value(start + k)
    })
    return out
  }

  const change = (operand: Source, value: (number: number) => number): Source => {
    scratch.giveBack(operand)
    const out = scratch.take()
    steps.push((start, length) => {
      for (let k = 0, i = at(operand, start); k < length; k++) out.data[k] = value(operand.data[i + k]!)
    })
    return out
  }

  /** @param keep one of the two that is read again later. */
  const loop = (left: Source, right: Source, run: Loop, keep?: Source): Source => {
    scratch.giveBack(...[left, right].filter(source => source !== keep))
    const out = scratch.take()
    steps.push((start, length) =>
      run(out.data, left.data, at(left, start), right.data, at(right, start), length),
    )
    return out
  }

  const combine = (left: Source, right: Source, value: (left: number, right: number) => number): Source =>
    loop(left, right, (out, a, i, b, j, length) => {
      for (let k = 0; k < length; k++) out[k] = value(a[i + k]!, b[j + k]!)
    })

  const name = (node: NameNode, here: ColumnTable | undefined): Source => {
    const { cells, source } = bindings.names.get(node)!
    const from = source ? here?.other?.(source) : here
    if (!from) return scratch.constant(NaN)
    if (options.blanksAsZero) return zeroed(cells, from)
    if (cells.length === 1) return column(from.numbers(cells[0]!))
    const out = scratch.take()
    steps.push((start, length) => addCells(from, cells, out.data, start, length))
    return out
  }

  const zeroed = (cells: readonly string[], from: ColumnTable): Source => {
    const columns = cells.map(cell => [from.numbers(cell), from.kinds(cell)] as const)
    return byRow(row => {
      let sum = 0
      for (const [numbers, kinds] of columns)
        sum += kinds[row] === KIND_CODES.blank || kinds[row] === KIND_CODES.notOffered ? 0 : numbers[row]!
      return sum
    })
  }

  const count = (node: CountNode, from: ColumnTable | undefined): Source => {
    const known = from?.counted?.(print(node))
    if (known) return column(known)
    const list = from?.list?.(node.list.code)
    if (!list) return scratch.constant(NaN)
    const counts = new Float64Array(table.size)
    const truths =
      node.where && evaluateAll({ tree: node.where, bindings, types }, list.table, { today: options.today })
    list.rowOf.forEach((row, one) => {
      if (row >= 0 && (!truths || truths[one] === 1)) counts[row]!++
    })
    return column(counts)
  }

  const compareTexts = (left: Node, right: Node, from: ColumnTable | undefined, equal: number): Source => {
    const [one, other] = [texts(left, from), texts(right, from)]
    return byRow(row => {
      const [a, b] = [one(row), other(row)]
      return a === null || b === null ? NaN : a === b ? equal : 1 - equal
    })
  }

  const of = (node: Node, from: ColumnTable | undefined): Source => {
    switch (node.type) {
      case 'number':
        return scratch.constant(node.value)
      case 'truth':
        return scratch.constant(+node.value)
      case 'minus':
        return change(of(node.operand, from), value => 0 - value)
      case 'not':
        return change(of(node.operand, from), value => 1 - value)
      case 'name':
        return name(node, from)
      case 'count':
        return count(node, from)
      case 'call':
        return call(node, from)
      case 'binary':
        if (isText(node.left)) return compareTexts(node.left, node.right, from, node.operator === '=' ? 1 : 0)
        return loop(of(node.left, from), of(node.right, from), LOOPS[node.operator])
      case 'between': {
        const operand = of(node.operand, from)
        const above = loop(operand, of(node.low, from), LOOPS['>='], operand)
        return loop(above, loop(operand, of(node.high, from), LOOPS['<=']), LOOPS.and)
      }
      case 'in': {
        const either = (equals: Source[]) => equals.reduce((left, right) => loop(left, right, LOOPS.or))
        if (isText(node.operand))
          return either(node.choices.map(choice => compareTexts(node.operand, choice, from, 1)))
        const operand = of(node.operand, from)
        const found = either(node.choices.map(choice => loop(operand, of(choice, from), LOOPS['='], operand)))
        scratch.giveBack(operand)
        return found
      }
      default:
        throw new Error(`A ${node.type} was not checked before it ran.`)
    }
  }

  const filled = (node: Node, from: ColumnTable | undefined): Source => {
    const reference = node.type === 'name' ? bindings.names.get(node)! : undefined
    const there = reference?.source ? from?.other?.(reference.source) : from
    if (reference) return there ? column(answered(there, reference.cells)) : scratch.constant(0)
    // Of an earlier period: *not known* and *not offered* are answers there too.
    if (node.type === 'call' && node.name === 'previous')
      return filled(node.args[0]!, from?.back?.(periodsBack(node)))
    if (node.type === 'call' && node.name === 'year_before')
      return filled(node.args[0]!, from?.yearBefore?.())
    if (isText(node)) {
      const text = texts(node, from)
      return byRow(row => +(text(row) !== null))
    }
    return change(of(node, from), value => +!Number.isNaN(value))
  }

  const call = (node: CallNode, from: ColumnTable | undefined): Source => {
    const [first, second, third] = node.args as [Node, Node?, Node?]
    const fold = (run: (left: Source, right: Source) => Source) =>
      node.args.map(arg => of(arg, from)).reduce(run)
    const backs = () =>
      Array.from({ length: periodsBack(node) }, (_, step) => of(first, from?.back?.(step + 1)))
    const days = (between: (from: number, to: number) => number) =>
      combine(of(first, from), of(second!, from), (a, b) =>
        Number.isNaN(a) || Number.isNaN(b) ? NaN : between(a, b),
      )
    const known = (one: (text: string) => number) => {
      const text = texts(first, from)
      return byRow(row => {
        const value = text(row)
        return value === null ? NaN : one(value)
      })
    }
    switch (node.name) {
      case 'abs':
        return change(of(first, from), Math.abs)
      case 'floor':
        return change(of(first, from), floorNear)
      case 'round': {
        const scale = 10 ** (second?.type === 'number' ? second.value : 0)
        // Halves go away from zero, as PostgreSQL's round(numeric) has it; the small step undoes 1.005 × 100
        // = 100.49999.
        return change(
          of(first, from),
          value =>
            (Math.sign(value) * Math.round(Math.abs(value) * scale * (1 + Number.EPSILON))) / scale + 0,
        )
      }
      case 'plain':
        return of(first, from)
      case 'min':
        return fold((left, right) => combine(left, right, Math.min))
      case 'max':
        return fold((left, right) => combine(left, right, Math.max))
      case 'sum':
        return fold((left, right) => loop(left, right, LOOPS['+']))
      case 'coalesce':
        return fold((left, right) => combine(left, right, (a, b) => (Number.isNaN(a) ? b : a)))
      case 'filled':
        return filled(first, from)
      case 'if': {
        const [test, yes, no] = [of(first, from), of(second!, from), of(third!, from)]
        scratch.giveBack(test, yes, no)
        const out = scratch.take()
        steps.push((start, length) => {
          for (let k = 0; k < length; k++) {
            const truth = test.data[at(test, start) + k]!
            out.data[k] =
              truth === 1 ? yes.data[at(yes, start) + k]! : truth === 0 ? no.data[at(no, start) + k]! : NaN
          }
        })
        return out
      }
      case 'previous':
        return of(first, from?.back?.(periodsBack(node)))
      case 'year_before':
        return of(first, from?.yearBefore?.())
      case 'sum_of_last':
        return backs().reduce((left, right) => loop(left, right, LOOPS['+']))
      case 'mean_of_last':
        return meanOfKnown(backs())
      case 'days_between':
        return days((a, b) => b - a)
      case 'months_between':
        return days(monthsBetween)
      case 'years_between':
        return days(yearsBetween)
      case 'date':
        return scratch.constant(first.type === 'text' ? must(parseDay(first.value)) : NaN)
      case 'today':
        return scratch.constant(options.today ?? NaN)
      case 'period_start':
      case 'period_end': {
        const found = from?.days?.(node.name === 'period_start' ? 'start' : 'end')
        return found ? column(found) : scratch.constant(NaN)
      }
      case 'length':
        return known(text => [...text].length)
      case 'matches': {
        const pattern = must(parsePattern(second?.type === 'text' ? second.value : ''))
        return known(text => +pattern(text))
      }
      case 'includes':
        return includes(first, second!, from)
      default:
        throw new Error(`The function ${node.name} was not checked before it ran.`)
    }
  }

  const includes = (list: Node, choice: Node, here: ColumnTable | undefined): Source => {
    const reference = bindings.names.get(list)
    const from = reference?.source ? here?.other?.(reference.source) : here
    const answers = reference && from?.answers?.(reference.cells[0]!)
    if (!answers) return scratch.constant(NaN)
    const wanted = texts(choice, here)
    return byRow(row => {
      const [chosen, code] = [answers[row] ?? null, wanted(row)]
      return chosen === null || code === null ? NaN : +chosen.includes(code)
    })
  }

  /** The mean of those that are known; blank when none is. */
  const meanOfKnown = (columns: Source[]): Source => {
    scratch.giveBack(...columns)
    const out = scratch.take()
    steps.push((start, length) => {
      for (let k = 0; k < length; k++) {
        let sum = 0
        let known = 0
        for (const source of columns) {
          const value = source.data[at(source, start) + k]!
          if (Number.isNaN(value)) continue
          sum += value
          known++
        }
        out.data[k] = known ? sum / known : NaN
      }
    })
    return out
  }

  return { root: of(tree, table), steps }
}

/** The value of an expression for every row of a table. */
export function evaluateAll(
  runnable: Runnable,
  table: ColumnTable,
  options: EvaluationOptions = {},
): Float64Array {
  const result = new Float64Array(table.size)
  const { steps, root } = prepare(runnable, table, options, new Scratch(table.size))
  for (let start = 0; start < table.size; start += BLOCK) {
    const length = Math.min(BLOCK, table.size - start)
    for (const step of steps) step(start, length)
    const from = root.kind === 'column' ? start : 0
    for (let k = 0; k < length; k++) result[start + k] = root.data[from + k]!
  }
  return result
}
