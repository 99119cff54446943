import type { Problem } from '../result'
import type { Bindings } from './bind'
import type { Types } from './check'
import { signatureOf } from './functions'
import { isComparison, isLogic, type CallNode, type Node } from './syntax'

/**
 * Powers of units of measure: doses a day is { doses: 1, days: -1 }. null goes with anything: a plain number.
 */
type Measure = Readonly<Record<string, number>> | null

const same = (one: Record<string, number>, other: Record<string, number>) => {
  const keys = new Set([...Object.keys(one), ...Object.keys(other)])
  return [...keys].every(key => (one[key] ?? 0) === (other[key] ?? 0))
}

/**
 * The measure of a product (power 1) or a quotient (power −1). What cancels out is gone; nothing left is a
 * plain number.
 */
function times(left: Measure, right: Measure, power: 1 | -1): Measure {
  if (!left && !right) return null
  const product: Record<string, number> = { ...left }
  for (const [unit, exponent] of Object.entries(right ?? {}))
    product[unit] = (product[unit] ?? 0) + exponent * power
  const left_over = Object.entries(product).filter(([, exponent]) => exponent !== 0)
  return left_over.length ? Object.fromEntries(left_over) : null
}

/** “doses”, “doses × days”, “doses / days”. */
function say(measure: Record<string, number>): string {
  const part = (sign: 1 | -1) =>
    Object.entries(measure)
      .filter(([, power]) => power * sign > 0)
      .map(([unit, power]) => (Math.abs(power) > 1 ? `${unit}^${Math.abs(power)}` : unit))
      .join(' × ')
  const below = part(-1)
  return below ? `${part(1) || '1'} / ${below}` : part(1)
}

/**
 * Fifth pass: like is compared with like. Adding doses to days, or comparing them, is a mistake; a plain
 * number goes with any unit, a share of like things is a plain number, and `plain(x)` takes the unit off on
 * purpose. Problem: `expression-measures`.
 */
export function checkMeasures(tree: Node, bindings: Bindings, types: Types): Problem[] {
  const problems: Problem[] = []

  const shared = (nodes: readonly Node[]): Measure => {
    let common: Measure = null
    for (const node of nodes) {
      const measure = of(node)
      if (measure && common && !same(measure, common)) {
        problems.push({
          code: 'expression-measures',
          at: node.at,
          values: { here: say(measure), there: say(common) },
          message: `This is in ${say(measure)}, but it stands beside ${say(common)}. Write plain(…) around it if that is meant.`,
        })
      }
      common ??= measure
    }
    return common
  }

  const call = (node: CallNode): Measure => {
    const rule = signatureOf(node.name)?.measure ?? 'none'
    // The condition of an `if` has measures of its own.
    const values = node.name === 'if' ? node.args.slice(1) : node.args
    if (node.name === 'if' && node.args[0]) of(node.args[0])
    if (rule === 'shared') return shared(values)
    const measures = values.map(of)
    if (rule === 'first') return measures[0] ?? null
    return rule === 'none' ? null : { [rule.gives]: 1 }
  }

  const of = (node: Node): Measure => {
    switch (node.type) {
      case 'name': {
        const unit = bindings.names.get(node)?.name.unitOfMeasure
        return unit ? { [unit]: 1 } : null
      }
      case 'minus':
        return of(node.operand)
      case 'not':
        of(node.operand)
        return null
      case 'between':
        shared([node.operand, node.low, node.high])
        return null
      case 'in':
        shared([node.operand, ...node.choices])
        return null
      case 'count':
        if (node.where) of(node.where)
        return { count: 1 }
      case 'call':
        return call(node)
      case 'binary': {
        const { operator, left, right } = node
        if (operator === '*' || operator === '/') return times(of(left), of(right), operator === '*' ? 1 : -1)
        if (isLogic(operator)) {
          of(left)
          of(right)
          return null
        }
        // A day and a number of days.
        if (types.get(left) === 'day' && types.get(right) === 'number') return null
        const common = shared([left, right])
        return isComparison(operator) ? null : common
      }
      default:
        return null
    }
  }

  of(tree)
  return problems
}
