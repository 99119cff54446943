import { isComparison, type Node } from './syntax'

/** How strongly a node binds; weaker ones get brackets inside stronger ones. */
function strength(node: Node): number {
  if (node.type === 'not') return 4
  if (node.type === 'minus') return 8
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
    case 'truth': return String(node.value)
    case 'name': return canonicalName(node)
    case 'minus': return `-${inner(node.operand, 8)}`
    case 'not': return `not ${inner(node.operand, 4)}`
    case 'call': return `${node.name}(${node.args.map(arg => print(arg, instead)).join(', ')})`
    case 'binary': {
      const own = strength(node)
      // `implies` groups to the right and comparisons do not chain; the others group to the left.
      const left = inner(node.left, node.operator === 'implies' || isComparison(node.operator) ? own + 1 : own)
      const right = inner(node.right, node.operator === 'implies' ? own : own + 1)
      return `${left} ${node.operator} ${right}`
    }
  }
}

function canonicalName(node: Extract<Node, { type: 'name' }>): string {
  return node.bands.length ? `${node.code}[${node.bands.map(band => band.code).join(', ')}]` : node.code
}
