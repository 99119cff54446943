import { evaluateAll } from '../expression/prepare'
import { isComparison, walk, type Node } from '../expression/syntax'
import { mean } from '../quality/mean'
import { valuesBefore } from '../quality/expected-range'
import { isTypedNumber } from '../report/asked'
import { LARGEST_COUNT } from '../report/cell'
import type { Cell } from '../report/edition'
import { KIND_CODES, withEachValue, type ColumnTable } from '../report/table'
import type { CompiledRule } from '../rule/compile-rules'
import type { Doubt } from '../rule/find-doubts'
import { optionsFor } from '../rule/judge'

/**
 * A change of one cell that would remove a doubt, or, where no single change does, one that shows its weight.
 */
export interface Cure {
  cell: string
  from: number | null
  to: number
  /**
   * Left out: the doubt is gone then. `usual`, `nothing`, `counted`: the unit's usual value, zero, or what a
   * supervisor counted, and the doubt may stay.
   */
  instead?: 'usual' | 'nothing' | 'counted'
}

/** Every value this near to the present one is tried: few at first, since most cures are small. */
const NEAR = [16, 512]
/** No more decimals than anybody types. */
const MOST_DIGITS = 4

/**
 * For each doubted cell alone, the nearest value that removes the doubt: the nearer end of a range, or the
 * nearest value at which the rule itself holds. A blank is cured by the unit's own mean if the rule holds
 * then. Where no cell alone removes the doubt, each weighs as much as its distance to the unit's usual value,
 * or to zero where there is none.
 * @param cells of the edition, by key. @param table the report with its history as a table of one row.
 * @param today the day number that `today()` gives.
 */
export function cures(
  doubt: Doubt,
  rule: CompiledRule | undefined,
  cells: ReadonlyMap<string, Cell>,
  table: ColumnTable,
  today?: number,
): Cure[] {
  if (doubt.range) {
    const { value, low, high } = doubt.range
    return [{ cell: doubt.code, from: value, to: value < low ? low : high }]
  }
  if (doubt.source === 'cases') return curesOfCount(doubt, table)
  if (doubt.recount) return curesOfRecount(doubt.recount.cells, table)
  if (!rule) return []
  // Of answers, texts and days there is no nearest; what is computed cannot be changed by itself.
  const typed = rule.compiled.cells.filter(cell => isTyped(cells.get(cell)))
  const found = typed.flatMap((cell): Cure[] => {
    const { kind, now } = contentAt(table, cell)
    const decimal = takesDecimals(cells.get(cell))
    if (kind === KIND_CODES.value) {
      const to = nearestThatHolds(rule, table, cell, now, decimal, today)
      return to === null ? [] : [{ cell, from: now, to }]
    }
    if (kind !== KIND_CODES.blank) return []
    const usual = usualValue(cell, table, decimal)
    return usual !== null && truthsOf(rule, withEachValue(table, cell, [usual]), today)[0] === 1
      ? [{ cell, from: null, to: usual }]
      : []
  })
  if (found.length) return found
  return typed.flatMap((cell): Cure[] => {
    const { kind, now } = contentAt(table, cell)
    if (kind !== KIND_CODES.value) return []
    const usual = usualValue(cell, table, takesDecimals(cells.get(cell)))
    return usual !== null && usual !== now
      ? [{ cell, from: now, to: usual, instead: 'usual' }]
      : [{ cell, from: now, to: 0, instead: 'nothing' }]
  })
}

/** What each cell of a count would say if it alone made the report agree with the register. */
function curesOfCount({ cells, explanation }: Doubt, table: ColumnTable): Cure[] {
  const [reported, registered] = [explanation?.left.value, explanation?.right?.value]
  if (typeof reported !== 'number' || typeof registered !== 'number') return []
  return cells.flatMap(cell => {
    const { kind, now } = contentAt(table, cell)
    const to = now + registered - reported
    return kind === KIND_CODES.value && to >= 0 ? [{ cell, from: now, to }] : []
  })
}

/** What each recounted cell would say if it said what was counted again. */
function curesOfRecount(counted: Readonly<Record<string, number>>, table: ColumnTable): Cure[] {
  return Object.entries(counted).flatMap(([cell, to]) => {
    const { now } = contentAt(table, cell)
    return now === to ? [] : [{ cell, from: now, to, instead: 'counted' }]
  })
}

const takesDecimals = (cell: Cell | undefined) => cell?.item.kind === 'decimal'
const isTyped = (cell: Cell | undefined) => cell === undefined || isTypedNumber(cell.item.kind)

const contentAt = (table: ColumnTable, cell: string) => ({
  kind: table.kinds(cell)[0]!,
  now: table.numbers(cell)[0]!,
})

const truthsOf = (rule: CompiledRule, table: ColumnTable, today?: number) =>
  rule.compiled.run(table, optionsFor(rule, today))

/** The unit's own mean over the periods before, as it could be typed. */
function usualValue(cell: string, table: ColumnTable, decimal: boolean): number | null {
  const known = valuesBefore(cell, table, 0).filter(value => !Number.isNaN(value))
  if (!known.length) return null
  const scale = decimal ? 10 ** Math.max(1, ...known.map(digitsOf)) : 1
  return Math.round(mean(known) * scale) / scale
}

/** How many decimals a number is written with. */
const digitsOf = (value: number): number =>
  Math.min(MOST_DIGITS, /\.(\d+)$/.exec(String(value))?.[1]?.length ?? 0)

/**
 * The value nearest to `now` at which the rule holds, others unchanged; null when there is none. Values are
 * whole for a count, and have as many decimals as the report for a decimal. All near values are tried;
 * farther ones are tried where a comparison of the rule turns, and at growing distances, between which the
 * turn is searched by halving.
 */
function nearestThatHolds(
  rule: CompiledRule,
  table: ColumnTable,
  cell: string,
  now: number,
  decimal: boolean,
  today?: number,
): number | null {
  const digits = decimal
    ? Math.max(
        1,
        digitsOf(now),
        ...rule.compiled.cells.map(key => digitsOf(table.numbers(key)[0]!)),
        ...numbersIn(rule.compiled.tree).map(digitsOf),
      )
    : 0
  const scale = 10 ** digits
  const start = Math.round(now * scale)
  const last = LARGEST_COUNT * scale
  const inside = (steps: readonly number[]) =>
    [...new Set(steps)].filter(step => step >= 0 && step <= last).sort((one, other) => one - other)
  const tableAt = (steps: readonly number[]) =>
    withEachValue(
      table,
      cell,
      steps.map(step => step / scale),
    )
  const holds = (steps: readonly number[]) => truthsOf(rule, tableAt(steps), today)
  const nearest = (steps: readonly number[], truths: Float64Array): number | null =>
    steps.reduce<number | null>(
      (best, step, at) =>
        truths[at] === 1 && (best === null || Math.abs(step - start) < Math.abs(best - start)) ? step : best,
      null,
    )

  for (const reach of NEAR) {
    const [from, to] = [Math.max(0, start - reach), Math.min(last, start + reach)]
    const near = Array.from({ length: Math.max(0, to - from + 1) }, (_, at) => from + at)
    const close = nearest(near, holds(near))
    if (close !== null) return close / scale
  }

  const far = inside([
    0,
    last,
    ...Array.from({ length: Math.ceil(Math.log2(last)) }, (_, power) => [
      start - 2 ** power,
      start + 2 ** power,
    ]).flat(),
  ])
  const turns = comparisonsIn(rule.compiled).flatMap(sides => turnsOf(sides, far))
  const tried = inside([
    ...far,
    ...turns.flatMap(turn => [Math.floor(turn) - 1, Math.floor(turn), Math.ceil(turn), Math.ceil(turn) + 1]),
  ])
  const truths = holds(tried)
  const ends = [0, 1].flatMap(side => {
    // From the present value outwards, the first that holds, then halfway back to the last that does not.
    const order = tried
      .map((step, at) => ({ step, holds: truths[at] === 1 }))
      .filter(({ step }) => (side ? step > start : step < start))
    if (!side) order.reverse()
    const first = order.findIndex(one => one.holds)
    if (first < 0) return []
    let [outer, inner] = [order[first]!.step, order[first - 1]?.step ?? start]
    while (Math.abs(outer - inner) > 1) {
      const middle = Math.trunc((outer + inner) / 2)
      if (holds([middle])[0] === 1) outer = middle
      else inner = middle
    }
    return [outer]
  })
  const best = ends.sort((one, other) => Math.abs(one - start) - Math.abs(other - start))[0]
  return best === undefined ? null : best / scale

  /** Where the two sides of a comparison meet, between neighbours of a row of steps. */
  function turnsOf([left, right]: [Node, Node], steps: readonly number[]): number[] {
    const { bindings, types } = rule.compiled
    const apart = (of: readonly number[]) => {
      const columns = tableAt(of)
      const [one, other] = [left, right].map(tree =>
        evaluateAll({ tree, bindings, types }, columns, optionsFor(rule, today)),
      ) as [Float64Array, Float64Array]
      return one.map((value, row) => value - other[row]!)
    }
    const distances = apart(steps)
    return steps.flatMap((step, place) => {
      const [here, next] = [distances[place]!, distances[place + 1] ?? NaN]
      if (here === 0) return [step]
      if (Number.isNaN(here) || Number.isNaN(next) || Math.sign(here) === Math.sign(next)) return []
      let [low, high] = [step, steps[place + 1]!]
      while (high - low > 1) {
        const middle = Math.trunc((low + high) / 2)
        const between = apart([middle])[0]!
        if (between === 0) return [middle]
        if (Math.sign(between) === Math.sign(here)) low = middle
        else high = middle
      }
      return [low, high]
    })
  }
}

const numbersIn = (tree: Node): number[] => {
  const found: number[] = []
  walk(tree, node => {
    if (node.type === 'number') found.push(node.value)
  })
  return found
}

/**
 * The pairs of numbers that a rule compares. Texts have no distance, and what stands in the condition of a count
 * is about cases, not about this report.
 */
function comparisonsIn({ tree, types }: CompiledRule['compiled']): [Node, Node][] {
  const found: [Node, Node][] = []
  const ofCases = new Set<Node>()
  walk(tree, node => {
    if (node.type === 'count' && node.where) walk(node.where, inner => ofCases.add(inner))
    if (ofCases.has(node)) return
    if (node.type === 'binary' && isComparison(node.operator)) found.push([node.left, node.right])
    if (node.type === 'between') found.push([node.operand, node.low], [node.operand, node.high])
    if (node.type === 'in') found.push(...node.choices.map((choice): [Node, Node] => [node.operand, choice]))
  })
  return found.filter(pair => pair.every(side => types.get(side) === 'number'))
}
