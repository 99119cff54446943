import type { Words } from '../report/edition'
import { FUNCTIONS } from './functions'
import { scan, type Token } from './scan'
import { isComparison, KEYWORDS, type Span } from './syntax'
import type { Name, Vocabulary } from './vocabulary'

/** Something that may stand at a place of an expression. */
export interface Completion {
  kind: 'item' | 'band' | 'source' | 'list' | 'function' | 'word' | 'choice'
  /** What is put in. */
  insert: string
  label: Words
  /** The part of the text that it takes the place of. */
  replaces: Span
}

const JOINTS = ['and', 'or', 'implies', 'between', 'in', '=', '!=', '<', '<=', '>', '>=', '+', '-', '*', '/']
const MOST = 50

/** Can a value end with this token, so that a joint follows it? */
const endsValue = (token: Token | undefined) =>
  token !== undefined &&
  (token.kind === 'number' ||
    token.kind === 'text' ||
    token.text === ')' ||
    token.text === ']' ||
    token.text === 'true' ||
    token.text === 'false' ||
    (token.kind === 'word' && !KEYWORDS.includes(token.text)))

/**
 * What may be typed at a place (a character offset) of an expression, best first: what begins with the
 * letters before the place, then what has them in its code or name.
 */
export function complete(text: string, place: number, vocabulary: Vocabulary, language = 'en'): Completion[] {
  const before = text.slice(0, place)
  const openText = (before.match(/"/g) ?? []).length % 2 === 1
  const tokens = scan(openText ? `${before}"` : before).tokens.slice(0, -1)
  const last = tokens.at(-1)
  const typing = last && last.at.end >= place && (last.kind === 'word' || openText) ? tokens.pop() : undefined
  const replaces: Span = typing ? { start: typing.at.start, end: place } : { start: place, end: place }
  const here = vocabularyAt(tokens, vocabulary)
  const offers = (openText ? choicesFor(tokens, here) : offersAfter(tokens, here)).map(offer => ({
    ...offer,
    replaces,
  }))
  return rank(offers, openText ? (typing?.text ?? '') : typing ? before.slice(typing.at.start) : '', language)
}

type Offer = Omit<Completion, 'replaces'>

/** Inside the condition of a count the names are those of its list. */
function vocabularyAt(tokens: readonly Token[], vocabulary: Vocabulary): Vocabulary {
  let here = vocabulary
  const closers: (Vocabulary | null)[] = []
  tokens.forEach((token, at) => {
    if (token.kind === 'text') return
    if (token.text === '(') closers.push(tokens[at - 1]?.text === 'count' ? here : null)
    if (token.text === ')') here = closers.pop() ?? here
    if (token.text === 'where') here = here.lists.get(tokens[at - 1]?.text ?? '') ?? here
  })
  return here
}

function nameOfBrackets(tokens: readonly Token[], here: Vocabulary): Name | undefined {
  const open = tokens.findLastIndex(token => token.text === '[')
  if (open < 0 || tokens.slice(open).some(token => token.text === ']')) return undefined
  return nameEndingAt(tokens, open - 1, here)
}

function nameEndingAt(tokens: readonly Token[], at: number, here: Vocabulary): Name | undefined {
  const of = tokens[at - 1]?.text === '.' ? here.others.get(tokens[at - 2]?.text ?? '') : here
  return of?.names.get(tokens[at]?.text ?? '')
}

function offersAfter(tokens: readonly Token[], here: Vocabulary): Offer[] {
  const last = tokens.at(-1)
  const item = (name: Name): Offer => ({ kind: 'item', insert: name.code, label: name.label })
  const bandsOf = nameOfBrackets(tokens, here)
  if (bandsOf)
    return bandsOf.axes.flatMap(axis =>
      axis.bands.map((band): Offer => ({
        kind: 'band',
        label: band.name,
        insert: bandsOf.axes.some(
          other => other !== axis && other.bands.some(({ code }) => code === band.code),
        )
          ? `${axis.code}.${band.code}`
          : band.code,
      })),
    )
  if (last?.text === '.')
    return [...(here.others.get(tokens.at(-2)?.text ?? '')?.names.values() ?? [])].map(item)
  if (last?.text === '(' && tokens.at(-2)?.text === 'count')
    return [...here.lists].map(([code, { label }]) => ({ kind: 'list', insert: code, label }))
  if (endsValue(last)) return JOINTS.map(word => ({ kind: 'word', insert: word, label: {} }))
  return [
    ...[...here.names.values()].map(item),
    ...[...here.others].map(([code, { label }]): Offer => ({ kind: 'source', insert: `${code}.`, label })),
    ...Object.entries(FUNCTIONS).map(([name, { takes, does }]): Offer => ({
      kind: 'function',
      insert: takes.length ? `${name}(` : `${name}()`,
      label: does,
    })),
    ...(here.lists.size
      ? [
          {
            kind: 'function' as const,
            insert: 'count(',
            label: {
              en: 'How many cases meet a condition.',
              fr: 'Combien de cas remplissent une condition.',
            },
          },
        ]
      : []),
    ...['not', 'true', 'false'].map((word): Offer => ({ kind: 'word', insert: word, label: {} })),
  ]
}

/** The choices of the name that an open text is held against. */
function choicesFor(tokens: readonly Token[], here: Vocabulary): Offer[] {
  let at = tokens.length - 1
  while (
    at >= 0 &&
    (tokens[at]!.kind === 'text' ||
      isComparison(tokens[at]!.text) ||
      [',', '(', 'in'].includes(tokens[at]!.text))
  )
    at--
  return (nameEndingAt(tokens, at, here)?.choices ?? []).map(choice => ({
    kind: 'choice',
    insert: `"${choice.code}"`,
    label: choice.label,
  }))
}

function rank(offers: Completion[], typed: string, language: string): Completion[] {
  const sought = typed.toLowerCase().replaceAll('"', '')
  const score = ({ insert, label }: Completion) => {
    const code = insert.toLowerCase().replaceAll('"', '')
    const said = (label[language] ?? label.en ?? '').toLowerCase()
    return code.startsWith(sought)
      ? 0
      : said.startsWith(sought)
        ? 1
        : code.includes(sought)
          ? 2
          : said.includes(sought)
            ? 3
            : 4
  }
  return offers
    .map(offer => ({ offer, score: score(offer) }))
    .filter(({ score: rankOf }) => rankOf < 4)
    .sort((one, other) => one.score - other.score)
    .slice(0, MOST)
    .map(({ offer }) => offer)
}
