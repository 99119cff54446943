import { distance } from 'fastest-levenshtein'
import type { Problem } from '../result'
import type { Span } from './syntax'

/** The known word nearest to a misspelt one by edit distance, when it is near enough to be meant. */
export function nearest(word: string, known: Iterable<string>): string | undefined {
  let best: string | undefined
  let fewest = Math.max(2, Math.floor(word.length / 3)) + 1
  for (const candidate of known) {
    const edits = distance(word.toLowerCase(), candidate.toLowerCase())
    if (edits < fewest) {
      fewest = edits
      best = candidate
    }
  }
  return best
}

/**
 * The problem of a word that nobody knows: its code, or `code-near` with the nearest known word as a hint.
 */
export function unknownWord(
  code: string,
  what: string,
  word: string,
  at: Span,
  known: Iterable<string>,
): Problem {
  const hint = nearest(word, known)
  return {
    code: hint ? `${code}-near` : code,
    message: `There is no ${what} “${word}”.${hint ? ` Is “${hint}” meant?` : ''}`,
    at,
    values: hint ? { word, hint } : { word },
  }
}
