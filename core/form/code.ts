import { FUNCTIONS } from '../expression/functions'
import { KEYWORDS } from '../expression/syntax'
import { bad, good, type Result } from '../result'

/** A longer column name is cut off by statistical programs (common practice). */
export const LONGEST_CODE = 32

/** What an extract or an expression keeps for itself: no item, question or section may be called so. */
export const RESERVED: ReadonlySet<string> = new Set([
  ...KEYWORDS,
  ...Object.keys(FUNCTIONS),
  'case',
  'entry',
  'report',
  'round',
  'period',
  'dataset',
  'edition',
  'parent',
  'received',
  'corrects',
  'constructor',
])

/** Letters that no accent makes: what they are folded to. */
const LIGATURES: Record<string, string> = {
  æ: 'ae',
  œ: 'oe',
  ß: 'ss',
  ø: 'o',
  đ: 'd',
  ð: 'd',
  þ: 'th',
  ł: 'l',
  ı: 'i',
}

/**
 * Signs over and under letters that do not make another letter of them: accents, and the vowel points of
 * Arabic and Hebrew, which most people leave out. The vowel signs of Indic and other scripts are letters of
 * the word, and stay.
 */
const ACCENTS =
  /[\u0300-\u036f\u1ab0-\u1aff\u1dc0-\u1dff\ufe20-\ufe2f\u0591-\u05bd\u05bf\u05c1\u05c2\u05c4\u05c5\u05c7\u0610-\u061a\u064b-\u065f\u0670]/g

/** Nothing but letters, digits and signs of ASCII. */
const PLAIN = /^[\x20-\x7e]*$/

/** Text in small letters without accents: `Épidémie` and `epidemie` are one. */
export const fold = (text: string): string =>
  // Most texts have no accents: thousands of them are folded before a slow phone can search.
  PLAIN.test(text)
    ? text.toLowerCase()
    : text
        .normalize('NFD')
        .replace(ACCENTS, '')
        .toLowerCase()
        .replace(/[æœßøđðþłı]/g, letter => LIGATURES[letter]!)

/**
 * The words of a search, folded.
 * @example searchWords(' Épidémie  2 ') // ['epidemie', '2']
 */
export const searchWords = (text: string): string[] => fold(text).split(/\s+/).filter(Boolean)

/**
 * A code from a label: accents folded, `/` and other signs to `_`, cut at a word, unique among those there
 * are.
 * @example codeFromLabel('Diarrhée / vomissements', []) // 'diarrhee_vomissements'
 */
export function codeFromLabel(label: string, taken: Iterable<string>): string {
  const known = new Set(taken)
  const plain = fold(label)
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^_+|_+$/g, '')
  const begun = /^[a-z]/.test(plain) ? plain : plain ? `q_${plain}` : 'question'
  const short = cut(begun, LONGEST_CODE)
  const free = (code: string) => !known.has(code) && !RESERVED.has(code)
  if (free(short)) return short
  for (let number = 2; ; number++) {
    const candidate = `${cut(short, LONGEST_CODE - 1 - String(number).length)}_${number}`
    if (free(candidate)) return candidate
  }
}

/** Cuts at the last `_` that leaves at least half. */
function cut(code: string, longest: number): string {
  if (code.length <= longest) return code
  const head = code.slice(0, longest)
  const word = code[longest] === '_' ? longest : head.lastIndexOf('_')
  return head.slice(0, word > longest / 2 ? word : longest).replace(/_+$/, '')
}

/**
 * Checks a code that a person wrote. Errors: `code-form` (letters, digits and `_`, a letter first),
 * `code-too-long`, `code-reserved`, `code-taken`.
 */
export function checkCode(code: string, taken: Iterable<string> = []): Result<string> {
  if (!/^[a-z][a-z0-9_]*$/.test(code))
    return bad({
      code: 'code-form',
      values: { code },
      message: `“${code}” is no code: small letters, digits and _, a letter first.`,
    })
  if (code.length > LONGEST_CODE)
    return bad({
      code: 'code-too-long',
      values: { code, most: LONGEST_CODE },
      message: `“${code}” is longer than ${LONGEST_CODE} characters.`,
    })
  if (RESERVED.has(code))
    return bad({
      code: 'code-reserved',
      values: { code },
      message: `“${code}” is a word that expressions or extracts keep for themselves.`,
    })
  if (new Set(taken).has(code))
    return bad({ code: 'code-taken', values: { code }, message: `“${code}” is there already.` })
  return good(code)
}
