/** A place in the text of an expression: characters `[start, end)`. */
export interface Span {
  start: number
  end: number
}

export type Comparison = '=' | '!=' | '<' | '<=' | '>' | '>='
export type Arithmetic = '+' | '-' | '*' | '/'
export type Logic = 'and' | 'or' | 'implies'
export type BinaryOperator = Comparison | Arithmetic | Logic

/** The tree that the parser makes. */
export type Node =
  | { type: 'number'; value: number; at: Span }
  | { type: 'truth'; value: boolean; at: Span }
  | { type: 'name'; code: string; bands: { code: string; at: Span }[]; at: Span; codeAt: Span }
  | { type: 'minus'; operand: Node; at: Span }
  | { type: 'not'; operand: Node; at: Span }
  | { type: 'binary'; operator: BinaryOperator; left: Node; right: Node; at: Span }
  | { type: 'call'; name: string; nameAt: Span; args: Node[]; at: Span }

const COMPARISONS: ReadonlySet<string> = new Set(['=', '!=', '<', '<=', '>', '>='])
const LOGIC: ReadonlySet<string> = new Set(['and', 'or', 'implies'])

export const isComparison = (operator: string): operator is Comparison => COMPARISONS.has(operator)
export const isLogic = (operator: string): operator is Logic => LOGIC.has(operator)

/** Calls `visit` for a node and all below it, parents first. */
export function walk(node: Node, visit: (node: Node) => void): void {
  visit(node)
  switch (node.type) {
    case 'minus':
    case 'not': return walk(node.operand, visit)
    case 'binary':
      walk(node.left, visit)
      return walk(node.right, visit)
    case 'call': return node.args.forEach(arg => walk(arg, visit))
  }
}
