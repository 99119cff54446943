import type { Bindings } from '#core/expression/bind'
import type { Node } from '#core/expression/syntax'
import type { RulesLogic } from 'json-logic-js'

/**
 * Writes the trees of our language in the languages that it is held against. Only what the bench's rules use.
 */
function write(
  node: Node,
  bindings: Bindings,
  words: {
    equal: string
    unequal: string
    implies: (left: string, right: string) => string
    between: (one: string, low: string, high: string) => string
  },
): string {
  const of = (child: Node): string => write(child, bindings, words)
  switch (node.type) {
    case 'number':
      return String(node.value)
    case 'name':
      return `(${bindings.names.get(node)!.cells.join(' + ')})`
    case 'between':
      return words.between(of(node.operand), of(node.low), of(node.high))
    case 'binary': {
      const { operator } = node
      if (operator === 'implies') return words.implies(of(node.left), of(node.right))
      return `(${of(node.left)} ${operator === '=' ? words.equal : operator === '!=' ? words.unequal : operator} ${of(node.right)})`
    }
    default:
      throw new Error(`The bench has no ${node.type}.`)
  }
}

export const toSql = (tree: Node, bindings: Bindings): string =>
  write(tree, bindings, {
    equal: '=',
    unequal: '<>',
    implies: (left, right) => `(NOT ${left} OR ${right})`,
    between: (one, low, high) => `(${one} BETWEEN ${low} AND ${high})`,
  })

export const toMath = (tree: Node, bindings: Bindings): string =>
  write(tree, bindings, {
    equal: '==',
    unequal: '!=',
    implies: (left, right) => `(not ${left} or ${right})`,
    between: (one, low, high) => `(${one} >= ${low} and ${one} <= ${high})`,
  })

export function toJsonLogic(node: Node, bindings: Bindings): RulesLogic {
  const of = (child: Node): never => toJsonLogic(child, bindings) as never
  switch (node.type) {
    case 'number':
      return node.value as never
    case 'name': {
      const cells = bindings.names.get(node)!.cells.map(cell => ({ var: cell }))
      return (cells.length === 1 ? cells[0]! : { '+': cells }) as RulesLogic
    }
    case 'between':
      return { '<=': [of(node.low), of(node.operand), of(node.high)] }
    case 'binary': {
      const { operator, left, right } = node
      if (operator === 'implies') return { or: [{ '!': [of(left)] }, of(right)] }
      return { [operator === '=' ? '==' : operator]: [of(left), of(right)] } as unknown as RulesLogic
    }
    default:
      throw new Error(`The bench has no ${node.type}.`)
  }
}
