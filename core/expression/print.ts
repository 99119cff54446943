import { isComparison, type NameNode, type Node } from './syntax'

/** How strongly a node binds; weaker ones get brackets inside stronger ones. */
export function strength(node: Node): number {
  if (node.type === 'not') return 4
  if (node.type === 'minus') return 8
  if (node.type === 'between' || node.type === 'in') return 5
  if (node.type !== 'binary') return 9
  if (node.operator === 'implies') return 1
  if (node.operator === 'or') return 2
  if (node.operator === 'and') return 3
  if (isComparison(node.operator)) return 5
  return node.operator === '+' || node.operator === '-' ? 6 : 7
}

/**
 * The text of a tree in its canonical form: one space around signs, no bracket too many.
 * @param instead may put other words in the place of a node (a name's label, or its number).
 */
export function print(node: Node, instead: (node: Node) => string | undefined = () => undefined): string {
  const said = instead(node)
  if (said !== undefined) return said
  const inner = (child: Node, least: number) => {
    const text = print(child, instead)
    return strength(child) < least ? `(${text})` : text
  }
  switch (node.type) {
    case 'number':
      return printNumber(node.value)
    case 'truth':
      return String(node.value)
    case 'text':
      return printText(node.value)
    case 'mistake':
      return '…'
    case 'name':
      return canonicalName(node)
    case 'minus':
      return `-${inner(node.operand, 8)}`
    case 'not':
      return `not ${inner(node.operand, 4)}`
    case 'between':
      return `${inner(node.operand, 6)} between ${inner(node.low, 6)} and ${inner(node.high, 6)}`
    case 'in':
      return `${inner(node.operand, 6)} in (${node.choices.map(choice => inner(choice, 6)).join(', ')})`
    case 'call':
      return `${node.name}(${node.args.map(arg => print(arg, instead)).join(', ')})`
    case 'count':
      return `count(${node.list.code}${node.where ? ` where ${print(node.where, instead)}` : ''})`
    case 'binary': {
      const own = strength(node)
      // `implies` groups to the right and comparisons do not chain; the others group to the left.
      const left = inner(
        node.left,
        node.operator === 'implies' || isComparison(node.operator) ? own + 1 : own,
      )
      const right = inner(node.right, node.operator === 'implies' ? own : own + 1)
      return `${left} ${node.operator} ${right}`
    }
  }
}

/** A text between quotes, those in it doubled. */
export const printText = (text: string): string => `"${text.replaceAll('"', '""')}"`

/**
 * A number with digits only: `0.0000001`, not `1e-7`, which the language does not read. @param value not
 * negative.
 */
export function printNumber(value: number): string {
  const [mantissa, exponent] = String(value).split('e') as [string, string?]
  if (exponent === undefined) return mantissa
  const [whole, decimals = ''] = mantissa.split('.') as [string, string?]
  const digits = whole + decimals
  const point = whole.length + Number(exponent)
  if (point <= 0) return `0.${'0'.repeat(-point)}${digits}`
  return digits.padEnd(point, '0')
}

function canonicalName(node: NameNode): string {
  const code = node.source ? `${node.source.code}.${node.code}` : node.code
  return node.bands.length
    ? `${code}[${node.bands.map(({ axis, code: band }) => (axis ? `${axis.code}.${band}` : band)).join(', ')}]`
    : code
}
