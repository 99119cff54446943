import type { Problem } from '../result'
import type { Token } from './scan'
import { isComparison, type BandWord, type BinaryOperator, type Node, type Span, type Word } from './syntax'

/** Brackets in brackets: deeper ones are a mistake, and would exhaust the stack. */
export const DEEPEST_NESTING = 60

/** Reported once, and nothing after it: the rest of such a text is brackets. */
class TooDeep extends Error {}

const across = (left: Node, right: Node): Span => ({ start: left.at.start, end: right.at.end })

/** Words that join; none of them begins a value. */
const JOINING: ReadonlySet<string> = new Set(['and', 'or', 'not', 'implies', 'between', 'in', 'where'])

/** Where the parser goes on after a mistake: at what ends or joins a part. */
const GOES_ON_AT: ReadonlySet<string> = new Set([')', ']', ',', 'and', 'or', 'implies', 'where'])

/**
 * Second pass: tokens to a tree, by recursive descent; weakest binding first: implies, or, and, not,
 * comparison, + -, * /.
 */
class Parser {
  readonly problems: Problem[] = []
  private place = 0
  private depth = 0
  /** Inside the list of a count no second one may stand. */
  private counting = false

  constructor(
    private readonly tokens: readonly Token[],
    scanned: readonly Problem[],
  ) {
    this.problems.push(...scanned)
  }

  whole(): Node {
    const parts = [this.expression()]
    while (this.next.kind !== 'end') {
      this.tell('expression-trailing', `“${this.next.text}” does not follow.`)
      if (this.take(')', ']', ',', '.', 'where') === undefined) parts.push(this.expression())
    }
    return parts.length === 1 ? parts[0]! : { type: 'mistake', parts, at: across(parts[0]!, parts.at(-1)!) }
  }

  private get next(): Token {
    return this.tokens[this.place]!
  }

  /** Notes a mistake, unless one at the same place, or a sign left out there, was reported before. */
  private tell(code: string, message: string, at = this.next.at): void {
    const isReported = this.problems.some(
      problem =>
        typeof problem.at === 'object' &&
        (problem.at.start === at.start ||
          (problem.code.startsWith('expression-sign') && this.betweenTokens(problem.at.start, at.start)) ||
          problem.code === 'expression-text-open'),
    )
    if (!isReported) this.problems.push({ code, message, at, values: { text: this.next.text } })
  }

  /** Does a place lie right before the token that starts at `at`, after the token before it? */
  private betweenTokens(place: number, at: number): boolean {
    const before = this.tokens[this.tokens.findIndex(token => token.at.start === at) - 1]
    return place < at && place >= (before?.at.end ?? 0)
  }

  /** Notes a mistake, skips to where a new part can begin, and stands in for what is missing. */
  private mistake(code: string, message: string): Node {
    const at = this.next.at
    this.tell(code, message)
    while (this.next.kind !== 'end' && !(this.next.kind !== 'text' && GOES_ON_AT.has(this.next.text)))
      this.place++
    return { type: 'mistake', at }
  }

  private deeper<T>(what: string, parse: () => T): T {
    if (++this.depth > DEEPEST_NESTING) {
      this.problems.push({
        code: 'expression-too-deep',
        message: `${what} nested deeper than ${DEEPEST_NESTING}.`,
        at: this.next.at,
        values: { most: DEEPEST_NESTING },
      })
      throw new TooDeep()
    }
    const result = parse()
    this.depth--
    return result
  }

  private take(...texts: string[]): Token | undefined {
    if (this.next.kind === 'number' || this.next.kind === 'text' || !texts.includes(this.next.text))
      return undefined
    return this.tokens[this.place++]
  }

  private expect(text: string): Token {
    const found = this.take(text)
    if (found) return found
    this.tell('expression-expected', `“${text}” is missing here.`)
    return { kind: 'sign', text, at: { start: this.next.at.start, end: this.next.at.start } }
  }

  private expression(): Node {
    return this.deeper('Brackets are', () => {
      const left = this.chain(['or'], () => this.chain(['and'], () => this.negation()))
      if (!this.take('implies')) return left
      const right = this.expression()
      return { type: 'binary', operator: 'implies', left, right, at: across(left, right) }
    })
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
    const operand = this.deeper('“not” is', () => this.negation())
    return { type: 'not', operand, at: { start: word.at.start, end: operand.at.end } }
  }

  private comparison(): Node {
    let left = this.sum()
    for (let compared = false; ; compared = true) {
      const token = this.next
      if (
        token.kind === 'text' ||
        !(isComparison(token.text) || token.text === 'between' || token.text === 'in')
      )
        return left
      if (compared) this.tell('expression-chained', 'Compare two sides at a time and join them with “and”.')
      this.place++
      const whole =
        token.text === 'between'
          ? this.between(left)
          : token.text === 'in'
            ? this.choices(left)
            : this.compare(left, token.text as BinaryOperator)
      left = compared ? { type: 'mistake', parts: [whole], at: whole.at } : whole
    }
  }

  private compare(left: Node, operator: BinaryOperator): Node {
    const right = this.sum()
    return { type: 'binary', operator, left, right, at: across(left, right) }
  }

  private between(operand: Node): Node {
    const low = this.sum()
    this.expect('and')
    const high = this.sum()
    return { type: 'between', operand, low, high, at: across(operand, high) }
  }

  private choices(operand: Node): Node {
    this.expect('(')
    const choices = this.list(() => this.sum())
    const close = this.expect(')')
    return { type: 'in', operand, choices, at: { start: operand.at.start, end: close.at.end } }
  }

  private list<T>(one: () => T): T[] {
    const all = [one()]
    while (this.take(',')) all.push(one())
    return all
  }

  private sum(): Node {
    return this.chain(['+', '-'], () => this.chain(['*', '/'], () => this.signed()))
  }

  private signed(): Node {
    const minus = this.take('-')
    if (!minus) return this.primary()
    const operand = this.deeper('Signs are', () => this.signed())
    return { type: 'minus', operand, at: { start: minus.at.start, end: operand.at.end } }
  }

  private primary(): Node {
    const token = this.next
    if (this.take('(')) {
      const inner = this.expression()
      this.expect(')')
      return inner
    }
    if (token.kind === 'number' || token.kind === 'text') {
      this.place++
      return token.kind === 'number'
        ? { type: 'number', value: Number(token.text), at: token.at }
        : { type: 'text', value: token.text, at: token.at }
    }
    if (token.kind !== 'word' || JOINING.has(token.text)) {
      return this.mistake(
        'expression-expected-value',
        token.kind === 'end'
          ? 'The expression stops before it is complete.'
          : `A name or a value should stand here, not “${token.text}”.`,
      )
    }
    this.place++
    if (token.text === 'true' || token.text === 'false')
      return { type: 'truth', value: token.text === 'true', at: token.at }
    if (token.text === 'count') return this.count(token)
    if (this.take('(')) return this.call(token)
    return this.name(token)
  }

  private call(name: Token): Node {
    const args = this.next.text === ')' && this.next.kind === 'sign' ? [] : this.list(() => this.expression())
    const close = this.expect(')')
    return {
      type: 'call',
      name: name.text,
      nameAt: name.at,
      args,
      at: { start: name.at.start, end: close.at.end },
    }
  }

  private count(word: Token): Node {
    if (this.counting) this.tell('expression-count-in-count', 'A count cannot stand inside another.', word.at)
    this.expect('(')
    const list = this.next
    if (list.kind !== 'word' || JOINING.has(list.text))
      this.mistake(
        'expression-expected-list',
        'The code of a case register or of a repeat should stand here.',
      )
    else this.place++
    const outer = this.counting
    this.counting = true
    const where = this.take('where') ? this.expression() : undefined
    this.counting = outer
    const close = this.expect(')')
    return {
      type: 'count',
      list: { code: list.kind === 'word' ? list.text : '', at: list.at },
      ...(where && { where }),
      at: { start: word.at.start, end: close.at.end },
    }
  }

  /** `u20`, or `age.u20`. */
  private band(): BandWord {
    const first: Word = { code: this.next.text, at: this.next.at }
    this.place++
    if (!this.take('.')) return first
    if (this.next.kind !== 'word') {
      this.mistake('expression-expected-band', 'The code of a band should stand here.')
      return first
    }
    const band: BandWord = { code: this.next.text, at: this.next.at, axis: first }
    this.place++
    return band
  }

  private name(first: Token): Node {
    let token = first
    let source: Word | undefined
    if (this.take('.')) {
      source = { code: first.text, at: first.at }
      if (this.next.kind !== 'word')
        return this.mistake('expression-expected-name', 'After the dot the code of an item should stand.')
      token = this.next
      this.place++
    }
    const bands: BandWord[] = []
    let end = token.at.end
    if (this.take('[')) {
      do {
        if (this.next.kind !== 'word') {
          this.mistake('expression-expected-band', 'The code of a band should stand here.')
          continue
        }
        bands.push(this.band())
      } while (this.take(','))
      end = this.expect(']').at.end
    }
    return {
      type: 'name',
      code: token.text,
      ...(source && { source }),
      bands,
      at: { start: first.at.start, end },
      codeAt: token.at,
    }
  }
}

/**
 * The tree of an expression's tokens, and every mistake found on the way: after one the parser skips to the
 * next bracket, comma or joining word and goes on. Codes: `expression-expected-value`, `-expected` (a
 * bracket), `-expected-band`, `-expected-name`, `-expected-list`, `-trailing`, `-chained`, `-count-in-count`,
 * `-too-deep`.
 */
export function parse(
  tokens: readonly Token[],
  scanned: readonly Problem[] = [],
): { tree: Node; problems: Problem[] } {
  const parser = new Parser(tokens, scanned)
  try {
    const tree = parser.whole()
    return { tree, problems: parser.problems }
  } catch (error) {
    if (!(error instanceof TooDeep)) throw error
    return { tree: { type: 'mistake', at: tokens[0]!.at }, problems: parser.problems }
  }
}
