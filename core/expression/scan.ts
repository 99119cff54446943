import type { Problem } from '../result'
import { KEYWORDS, type Span } from './syntax'

export interface Token {
  kind: 'number' | 'word' | 'text' | 'sign' | 'end'
  /** For a text: what is between its quotes. */
  text: string
  at: Span
}

/** No rule that a person can read is longer. */
export const LONGEST_EXPRESSION = 2000

const TOKEN = /\s*(?:(\d+(?:\.\d+)?)|([A-Za-z_][A-Za-z0-9_]*)|"((?:[^"]|"")*)"|(<=|>=|!=|[-+*/()[\],.=<>]))/y

/** What people write who know other languages, and what they mean. */
const FOREIGN: [sign: string, meant: string][] = [
  ['==', '='],
  ['<>', '!='],
  ['&&', 'and'],
  ['||', 'or'],
  ['!', 'not'],
  ['≤', '<='],
  ['≥', '>='],
  ['≠', '!='],
  ['×', '*'],
  ['÷', '/'],
  ['−', '-'],
  ['“', '"'],
  ['”', '"'],
  ["'", '"'],
]

/**
 * First pass: text to tokens. An unknown sign is reported and skipped, so that later mistakes are reported
 * too. Problems: `expression-too-long` (nothing is scanned then), `expression-sign`, `expression-sign-near`
 * (with what is meant), `expression-text-open` (a quote that is not closed).
 */
export function scan(text: string): { tokens: Token[]; problems: Problem[] } {
  const problems: Problem[] = []
  const tokens: Token[] = []
  if (text.length > LONGEST_EXPRESSION) {
    problems.push({
      code: 'expression-too-long',
      values: { most: LONGEST_EXPRESSION },
      message: `An expression has at most ${LONGEST_EXPRESSION} characters.`,
      at: { start: LONGEST_EXPRESSION, end: text.length },
    })
    return { tokens: [{ kind: 'end', text: '', at: { start: 0, end: 0 } }], problems }
  }
  const end = text.trimEnd().length
  let place = 0
  while (place < end) {
    TOKEN.lastIndex = place
    const found = TOKEN.exec(text)
    if (!found || text.startsWith('==', TOKEN.lastIndex - 1) || text.startsWith('<>', TOKEN.lastIndex - 1)) {
      const start = found ? TOKEN.lastIndex - 1 : place + text.slice(place).search(/\S/)
      place = strange(text, start, end, problems)
      continue
    }
    const [whole, number, word, quoted, sign] = found
    const matched = quoted === undefined ? (number ?? word ?? sign)! : `"${quoted}"`
    const start = place + whole.length - matched.length
    const small = word?.toLowerCase()
    if (word && small !== word && KEYWORDS.includes(small!)) {
      problems.push({
        code: 'expression-sign-near',
        at: { start, end: start + word.length },
        values: { sign: word, hint: small! },
        message: `“${word}” has no meaning here. Is ${small} meant? Words of the language are written small.`,
      })
    }
    tokens.push({
      kind: number ? 'number' : word ? 'word' : sign ? 'sign' : 'text',
      // A word that was meant as one of the language is read as that, so that the mistake is reported once.
      text:
        quoted !== undefined
          ? quoted.replaceAll('""', '"').normalize('NFC')
          : word && KEYWORDS.includes(small!)
            ? small!
            : matched,
      at: { start, end: start + matched.length },
    })
    place = TOKEN.lastIndex
  }
  tokens.push({ kind: 'end', text: '', at: { start: end, end } })
  return { tokens, problems }
}

/** Reports a sign that does not belong here. Returns where to continue. */
function strange(text: string, start: number, end: number, problems: Problem[]): number {
  if (text[start] === '"') {
    problems.push({
      code: 'expression-text-open',
      message: 'This text has no closing quote.',
      at: { start, end },
    })
    return end
  }
  const foreign = FOREIGN.find(([sign]) => text.startsWith(sign, start))
  const sign = foreign?.[0] ?? String.fromCodePoint(text.codePointAt(start)!)
  problems.push({
    code: foreign ? 'expression-sign-near' : 'expression-sign',
    at: { start, end: start + sign.length },
    values: foreign ? { sign, hint: foreign[1] } : { sign },
    message: foreign
      ? `“${sign}” has no meaning here. Is ${foreign[1]} meant?`
      : `“${sign}” has no meaning here.`,
  })
  return start + sign.length
}
