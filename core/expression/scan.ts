import { bad, good, type Result } from '../result'
import type { Span } from './syntax'

export interface Token {
  kind: 'number' | 'word' | 'sign' | 'end'
  text: string
  at: Span
}

/** No rule that a person can read is longer. */
export const LONGEST_EXPRESSION = 2000

const TOKEN = /\s*(?:(\d+(?:\.\d+)?)|([A-Za-z_][A-Za-z0-9_]*)|(<=|>=|!=|[-+*/()[\],=<>]))/y

/** First pass: text to tokens. Errors: `expression-too-long`, `expression-sign` (a sign that the language does not have). */
export function scan(text: string): Result<Token[]> {
  if (text.length > LONGEST_EXPRESSION) {
    return bad({ code: 'expression-too-long', message: `An expression has at most ${LONGEST_EXPRESSION} characters.`, at: { start: LONGEST_EXPRESSION, end: text.length } })
  }
  const tokens: Token[] = []
  let place = 0
  const end = text.trimEnd().length
  while (place < end) {
    TOKEN.lastIndex = place
    const found = TOKEN.exec(text)
    if (!found) {
      const start = place + (/^\s*/.exec(text.slice(place))?.[0].length ?? 0)
      const sign = String.fromCodePoint(text.codePointAt(start)!)
      return bad({ code: 'expression-sign', message: `“${sign}” has no meaning here.`, at: { start, end: start + sign.length }, values: { sign } })
    }
    const [whole, number, word, sign] = found
    const matched = (number ?? word ?? sign)!
    const start = place + whole.length - matched.length
    tokens.push({ kind: number ? 'number' : word ? 'word' : 'sign', text: matched, at: { start, end: start + matched.length } })
    place = TOKEN.lastIndex
  }
  tokens.push({ kind: 'end', text: '', at: { start: end, end } })
  return good(tokens)
}
