import { bad, good, type Problem, type Result } from '../result'
import type { Token } from './scan'
import { isComparison, type BinaryOperator, type Node, type Span } from './syntax'

/** Brackets in brackets: deeper ones are a mistake, and would exhaust the stack. */
export const DEEPEST_NESTING = 60

class Mistake extends Error {
  constructor(readonly problem: Problem) {
    super(problem.message)
  }
}

const across = (left: Node, right: Node): Span => ({ start: left.at.start, end: right.at.end })

/** Second pass: tokens to a tree, by recursive descent; weakest binding first: implies, or, and, not, comparison, + -, * /. */
class Parser {
  private place = 0
  private depth = 0

  constructor(private readonly tokens: readonly Token[]) {}

  whole(): Node {
    const node = this.expression()
    if (this.next.kind !== 'end') this.fail('expression-trailing', `“${this.next.text}” does not follow.`)
    return node
  }

  private get next(): Token {
    return this.tokens[this.place]!
  }

  private fail(code: string, message: string, at = this.next.at): never {
    throw new Mistake({ code, message, at, values: { text: this.next.text } })
  }

  private take(...texts: string[]): Token | undefined {
    if (this.next.kind === 'number' || !texts.includes(this.next.text)) return undefined
    return this.tokens[this.place++]
  }

  private expect(text: string): Token {
    return this.take(text) ?? this.fail('expression-expected', `“${text}” is missing here.`)
  }

  private expression(): Node {
    if (++this.depth > DEEPEST_NESTING) this.fail('expression-too-deep', `Brackets are nested deeper than ${DEEPEST_NESTING}.`)
    let left = this.chain(['or'], () => this.chain(['and'], () => this.negation()))
    if (this.take('implies')) {
      const right = this.expression()
      left = { type: 'binary', operator: 'implies', left, right, at: across(left, right) }
    }
    this.depth--
    return left
  }

  private chain(operators: BinaryOperator[], operand: () => Node): Node {
    let left = operand()
    for (let sign = this.take(...operators); sign; sign = this.take(...operators)) {
      const right = operand()
      left = { type: 'binary', operator: sign.text as BinaryOperator, left, right, at: across(left, right) }
    }
    return left
  }

  private negation(): Node {
    const word = this.take('not')
    if (!word) return this.comparison()
    if (++this.depth > DEEPEST_NESTING) this.fail('expression-too-deep', `“not” is nested deeper than ${DEEPEST_NESTING}.`)
    const operand = this.negation()
    this.depth--
    return { type: 'not', operand, at: { start: word.at.start, end: operand.at.end } }
  }

  private comparison(): Node {
    const left = this.sum()
    if (!isComparison(this.next.text)) return left
    const operator = this.tokens[this.place++]!.text as BinaryOperator
    const right = this.sum()
    if (isComparison(this.next.text)) {
      this.fail('expression-chained', 'Compare two sides at a time and join them with “and”.')
    }
    return { type: 'binary', operator, left, right, at: across(left, right) }
  }

  private sum(): Node {
    return this.chain(['+', '-'], () => this.chain(['*', '/'], () => this.signed()))
  }

  private signed(): Node {
    const minus = this.take('-')
    if (!minus) return this.primary()
    if (++this.depth > DEEPEST_NESTING) this.fail('expression-too-deep', `Signs are nested deeper than ${DEEPEST_NESTING}.`)
    const operand = this.signed()
    this.depth--
    return { type: 'minus', operand, at: { start: minus.at.start, end: operand.at.end } }
  }

  private primary(): Node {
    const token = this.next
    if (this.take('(')) {
      const inner = this.expression()
      this.expect(')')
      return inner
    }
    if (token.kind === 'number') {
      this.place++
      return { type: 'number', value: Number(token.text), at: token.at }
    }
    if (token.kind !== 'word' || ['and', 'or', 'not', 'implies'].includes(token.text)) {
      return this.fail('expression-expected-value', token.kind === 'end'
        ? 'The expression stops before it is complete.'
        : `A name or a number should stand here, not “${token.text}”.`)
    }
    this.place++
    if (token.text === 'true' || token.text === 'false') return { type: 'truth', value: token.text === 'true', at: token.at }
    if (this.take('(')) return this.call(token)
    return this.name(token)
  }

  private call(name: Token): Node {
    const args: Node[] = []
    if (this.next.text !== ')') {
      do args.push(this.expression())
      while (this.take(','))
    }
    const close = this.expect(')')
    return { type: 'call', name: name.text, nameAt: name.at, args, at: { start: name.at.start, end: close.at.end } }
  }

  private name(token: Token): Node {
    const bands: { code: string; at: Span }[] = []
    let end = token.at.end
    if (this.take('[')) {
      do {
        const band = this.next
        if (band.kind !== 'word') this.fail('expression-expected-band', 'The code of a band should stand here.')
        this.place++
        bands.push({ code: band.text, at: band.at })
      } while (this.take(','))
      end = this.expect(']').at.end
    }
    return { type: 'name', code: token.text, bands, at: { start: token.at.start, end }, codeAt: token.at }
  }
}

/** The tree of an expression's tokens. Errors carry the place; see the codes in the class. */
export function parse(tokens: readonly Token[]): Result<Node> {
  try {
    return good(new Parser(tokens).whole())
  }
  catch (error) {
    if (error instanceof Mistake) return bad(error.problem)
    throw error
  }
}
