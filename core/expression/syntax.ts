/** A place in the text of an expression: characters `[start, end)`. */
export interface Span {
  start: number
  end: number
}

export type Comparison = '=' | '!=' | '<' | '<=' | '>' | '>='
export type Arithmetic = '+' | '-' | '*' | '/'
export type Logic = 'and' | 'or' | 'implies'
export type BinaryOperator = Comparison | Arithmetic | Logic

/** A word of the text with its place. */
export interface Word {
  code: string
  at: Span
}

/** A band in the brackets of a name; its axis stands before a dot where two axes have a band of that code. */
export interface BandWord extends Word {
  axis?: Word
}

/** The tree that the parser makes. */
export type Node =
  | { type: 'number'; value: number; at: Span }
  | { type: 'truth'; value: boolean; at: Span }
  | { type: 'text'; value: string; at: Span }
  /** `source` is what stands before the dot: another dataset, another form, the parent case. */
  | { type: 'name'; code: string; source?: Word; bands: BandWord[]; at: Span; codeAt: Span }
  | { type: 'minus'; operand: Node; at: Span }
  | { type: 'not'; operand: Node; at: Span }
  | { type: 'binary'; operator: BinaryOperator; left: Node; right: Node; at: Span }
  | { type: 'between'; operand: Node; low: Node; high: Node; at: Span }
  | { type: 'in'; operand: Node; choices: Node[]; at: Span }
  | { type: 'call'; name: string; nameAt: Span; args: Node[]; at: Span }
  /** How many cases of a register (rows of a repeat) meet a condition. */
  | { type: 'count'; list: Word; where?: Node; at: Span }
  /** A place where the parser found a mistake and continued; its parts are only checked for unknown names. */
  | { type: 'mistake'; parts?: Node[]; at: Span }

export type NameNode = Extract<Node, { type: 'name' }>
export type CallNode = Extract<Node, { type: 'call' }>
export type CountNode = Extract<Node, { type: 'count' }>

const COMPARISONS: ReadonlySet<string> = new Set(['=', '!=', '<', '<=', '>', '>='])
const LOGIC: ReadonlySet<string> = new Set(['and', 'or', 'implies'])

/** The words that the language keeps for itself; no code may be one of them. */
export const KEYWORDS: readonly string[] = [
  'and',
  'or',
  'not',
  'implies',
  'between',
  'in',
  'where',
  'count',
  'true',
  'false',
]

export const isComparison = (operator: string): operator is Comparison => COMPARISONS.has(operator)
export const isLogic = (operator: string): operator is Logic => LOGIC.has(operator)

/** The nodes right below a node, in the order of the text. */
export function childrenOf(node: Node): readonly Node[] {
  switch (node.type) {
    case 'minus':
    case 'not':
      return [node.operand]
    case 'binary':
      return [node.left, node.right]
    case 'between':
      return [node.operand, node.low, node.high]
    case 'in':
      return [node.operand, ...node.choices]
    case 'call':
      return node.args
    case 'count':
      return node.where ? [node.where] : []
    case 'mistake':
      return node.parts ?? []
    default:
      return []
  }
}

/** Calls `visit` for a node and all below it, parents first. */
export function walk(node: Node, visit: (node: Node) => void): void {
  visit(node)
  for (const child of childrenOf(node)) walk(child, visit)
}
