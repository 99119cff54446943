/**
 * A text as a pattern of LIKE that finds it anywhere: whatever is special in a pattern is taken as it is.
 * @example anywhere('50%') // %50\%%
 */
export const anywhere = (text: string): string => `%${text.replaceAll(/[\\%_]/g, '\\$&')}%`

/** More parts of a search than this say nothing new. */
const MOST_PARTS = 8

/**
 * For queries: the condition that all parts of a search stand anywhere in a column. A pattern each, not a list
 * of them: only so an index on parts of words is used.
 *
 * @param first the number of the first parameter
 * @example standIn('c.search_text', ['am', 'ox'], 3) // { condition: 'c.search_text LIKE $3 AND …', patterns: ['%am%', '%ox%'] }
 */
export function standIn(column: string, parts: readonly string[], first: number) {
  const patterns = parts.slice(0, MOST_PARTS).map(anywhere)
  const condition = patterns.map((_, at) => `${column} LIKE $${first + at}`).join(' AND ') || 'true'
  return { condition, patterns }
}
