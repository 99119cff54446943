import type { Problem } from '../result'
import { FARTHEST_BACK, FUNCTIONS, type ValueType } from './functions'
import { isComparison, isLogic, type Node } from './syntax'

const SAID: Record<ValueType, string> = { number: 'a number', truth: 'yes or no' }

/** Fourth pass: checks that each part gets what it can work with. Returns the type of the whole and every mistake. */
export function check(tree: Node): { type: ValueType; problems: Problem[] } {
  const problems: Problem[] = []

  const need = (node: Node, type: ValueType) => {
    const found = typeOf(node)
    if (found !== type) {
      problems.push({
        code: `expression-needs-${type}`, at: node.at,
        message: `This must be ${SAID[type]}, but it is ${SAID[found]}.`,
      })
    }
  }

  const call = (node: Extract<Node, { type: 'call' }>): ValueType => {
    const signature = Object.hasOwn(FUNCTIONS, node.name) ? FUNCTIONS[node.name] : undefined
    if (!signature) return 'number' // reported when names were bound
    const most = signature.rest ? Infinity : signature.takes.length
    const least = signature.takes.length - (signature.optional ?? 0)
    if (node.args.length < least || node.args.length > most) {
      problems.push({
        code: 'expression-arguments', at: node.at, values: { word: node.name, least },
        message: `${node.name} takes ${least === most ? least : `${least} or more`} values in its brackets, not ${node.args.length}.`,
      })
    }
    node.args.forEach((arg, index) => {
      need(arg, signature.takes[Math.min(index, signature.takes.length - 1)]!)
      if (index !== signature.literal) return
      if (arg.type !== 'number' || !Number.isInteger(arg.value) || arg.value < 1 || arg.value > FARTHEST_BACK) {
        problems.push({
          code: 'expression-periods', at: arg.at, values: { most: FARTHEST_BACK },
          message: `How far back must be a whole number from 1 to ${FARTHEST_BACK}.`,
        })
      }
    })
    return signature.gives
  }

  const typeOf = (node: Node): ValueType => {
    switch (node.type) {
      case 'number':
      case 'name': return 'number'
      case 'truth': return 'truth'
      case 'minus':
        need(node.operand, 'number')
        return 'number'
      case 'not':
        need(node.operand, 'truth')
        return 'truth'
      case 'call': return call(node)
      case 'binary': {
        const takes = isLogic(node.operator) ? 'truth' : 'number'
        need(node.left, takes)
        need(node.right, takes)
        return isLogic(node.operator) || isComparison(node.operator) ? 'truth' : 'number'
      }
    }
  }

  return { type: typeOf(tree), problems }
}
