import { parseDay } from '../calendar/day'
import type { Problem } from '../result'
import type { Bindings } from './bind'
import { FARTHEST_BACK, periodsBack, signatureOf, type Parameter } from './functions'
import { unknownWord } from './nearest'
import { parsePattern } from './pattern'
import { childrenOf, isComparison, isLogic, type CallNode, type Node } from './syntax'
import type { ValueType } from './vocabulary'

const SAID: Record<ValueType, string> = {
  number: 'a number',
  truth: 'yes or no',
  text: 'a text',
  day: 'a day',
  answers: 'several answers',
}

/** The types of all nodes; undefined where a mistake was reported before. */
export type Types = Map<Node, ValueType | undefined>

const MOST_DIGITS = 9
const FARTHEST_YEARS = 3

/**
 * Fourth pass: checks that each part gets what it can work with. Returns the type of every node and every
 * mistake.
 */
export function check(tree: Node, bindings: Bindings): { types: Types; problems: Problem[] } {
  const problems: Problem[] = []
  const types: Types = new Map()

  const tell = (code: string, node: Node, message: string, values?: Problem['values']) => {
    problems.push({ code, at: node.at, message, ...(values && { values }) })
  }

  const needs = (node: Node, wanted: readonly ValueType[]): ValueType | undefined => {
    const found = typeOf(node)
    if (!found || wanted.includes(found)) return found
    tell(
      `expression-needs-${wanted[0]}`,
      node,
      `This must be ${wanted.map(type => SAID[type]).join(' or ')}, but it is ${SAID[found]}.`,
    )
    return undefined
  }

  /** All must be of one type; the first known one decides. */
  const alike = (nodes: readonly Node[], among?: readonly ValueType[]): ValueType | undefined => {
    let common: ValueType | undefined
    for (const node of nodes) {
      const found = among ? needs(node, among) : typeOf(node)
      if (found && common && found !== common)
        tell('expression-types-differ', node, `This is ${SAID[found]}, but it stands beside ${SAID[common]}.`)
      common ??= found
    }
    return common
  }

  /** A text that is held against a chosen one must be among the choices. */
  const choiceOf = (chosen: Node, literal: Node) => {
    const choices = bindings.names.get(chosen)?.name.choices
    if (!choices || literal.type !== 'text' || choices.some(choice => choice.code === literal.value)) return
    problems.push(
      unknownWord(
        'expression-no-choice',
        'choice',
        literal.value,
        literal.at,
        choices.map(choice => choice.code),
      ),
    )
  }

  const literalOf = (node: CallNode) => {
    const { literal } = signatureOf(node.name)!
    const arg = literal && node.args[literal.place]
    if (!literal || !arg || arg.type === 'mistake') return
    const whole = (least: number, most: number) =>
      arg.type === 'number' && Number.isInteger(arg.value) && arg.value >= least && arg.value <= most
    if (literal.kind === 'periods' && !whole(1, FARTHEST_BACK))
      tell('expression-periods', arg, `How far back must be a whole number from 1 to ${FARTHEST_BACK}.`, {
        most: FARTHEST_BACK,
      })
    if (literal.kind === 'digits' && !whole(0, MOST_DIGITS))
      tell('expression-digits', arg, `The decimals must be a whole number from 0 to ${MOST_DIGITS}.`, {
        most: MOST_DIGITS,
      })
    if (literal.kind === 'day') {
      const day = arg.type === 'text' ? parseDay(arg.value) : undefined
      if (!day?.ok)
        tell(
          'expression-day',
          arg,
          day ? day.problems[0]!.message : 'A day is written as date("2026-10-05").',
        )
    }
    if (literal.kind === 'pattern') {
      const pattern = arg.type === 'text' ? parsePattern(arg.value) : undefined
      if (!pattern?.ok)
        tell(
          'expression-pattern',
          arg,
          pattern ? pattern.problems[0]!.message : 'A pattern must be written out as a text.',
        )
    }
  }

  const call = (node: CallNode): ValueType | undefined => {
    const signature = signatureOf(node.name)
    if (!signature) {
      node.args.forEach(typeOf)
      return undefined // told when names were bound
    }
    const most = signature.rest ? Infinity : signature.takes.length
    const least = signature.takes.length - (signature.optional ?? 0)
    if (node.args.length < least || node.args.length > most) {
      tell(
        'expression-arguments',
        node,
        `${node.name} takes ${least === most ? least : `${least} or more`} values in its brackets, not ${node.args.length}.`,
        { word: node.name, least },
      )
    }
    const placed = (parameter: Parameter) =>
      node.args.filter((_, at) => signature.takes[Math.min(at, signature.takes.length - 1)] === parameter)
    let common: ValueType | undefined
    for (const parameter of new Set(signature.takes)) {
      const args = placed(parameter)
      if (parameter === 'same') common = alike(args)
      else if (parameter === 'ordered') common = alike(args, ['number', 'day'])
      else if (parameter === 'any') common = args.map(typeOf)[0]
      else args.forEach(arg => needs(arg, [parameter]))
    }
    literalOf(node)
    if (node.name === 'includes' && node.args.length === 2) choiceOf(node.args[0]!, node.args[1]!)
    return signature.gives === 'same' ? common : signature.gives
  }

  const binary = (node: Extract<Node, { type: 'binary' }>): ValueType | undefined => {
    const { operator, left, right } = node
    if (isLogic(operator)) {
      needs(left, ['truth'])
      needs(right, ['truth'])
      return 'truth'
    }
    if (operator === '=' || operator === '!=') {
      if (alike([left, right]) === 'answers')
        tell('expression-answers', node, 'Ask for one of several answers with includes(answers, "choice").')
      choiceOf(left, right)
      choiceOf(right, left)
      return 'truth'
    }
    if (isComparison(operator)) {
      alike([left, right], ['number', 'day'])
      return 'truth'
    }
    // A day plus or less some days is a day; the days between two days have a function.
    if ((operator === '+' || operator === '-') && typeOf(left) === 'day') {
      needs(right, ['number'])
      return 'day'
    }
    needs(left, ['number'])
    needs(right, ['number'])
    return 'number'
  }

  const find = (node: Node): ValueType | undefined => {
    switch (node.type) {
      case 'number':
        return 'number'
      case 'truth':
        return 'truth'
      case 'text':
        return 'text'
      case 'mistake':
        return undefined
      case 'name':
        return bindings.names.get(node)?.name.type
      case 'minus':
        return needs(node.operand, ['number']) && 'number'
      case 'not':
        needs(node.operand, ['truth'])
        return 'truth'
      case 'between':
        alike([node.operand, node.low, node.high], ['number', 'day'])
        return 'truth'
      case 'in':
        alike([node.operand, ...node.choices], ['number', 'day', 'text'])
        node.choices.forEach(choice => choiceOf(node.operand, choice))
        return 'truth'
      case 'count':
        if (node.where && bindings.lists.has(node)) needs(node.where, ['truth'])
        return 'number'
      case 'call':
        return call(node)
      case 'binary':
        return binary(node)
    }
  }

  const typeOf = (node: Node): ValueType | undefined => {
    if (!types.has(node)) types.set(node, find(node))
    return types.get(node)
  }

  /** Periods that are looked back within others add up; a year is looked back at most thrice. */
  const reach = (node: Node, back: number, years: number) => {
    const looks = node.type === 'call' && signatureOf(node.name)?.looksBack ? node : undefined
    const further = back + (looks && looks.name !== 'year_before' ? periodsBack(looks) : 0)
    const earlier = years + (looks?.name === 'year_before' ? 1 : 0)
    if (looks && ((further > FARTHEST_BACK && back > 0) || earlier > FARTHEST_YEARS)) {
      tell(
        'expression-periods',
        looks,
        `How far back must be a whole number from 1 to ${FARTHEST_BACK}, all in all.`,
        { most: FARTHEST_BACK },
      )
      return
    }
    childrenOf(node).forEach(child => reach(child, further, earlier))
  }

  typeOf(tree)
  reach(tree, 0, 0)
  return { types, problems }
}
