import type { Composer } from 'vue-i18n'

/** What a sentence is given. */
type Values = Record<string, unknown>

/** Messages of the locale files: sentences, or groups of them. */
interface Messages {
  [key: string]: string | Messages
}

/** What only the library can say: forms for one and many, links to other sentences, quoted signs. */
const IS_MORE = /[|@]|\{'/

/** The sentence of a key such as `cell.usual`, as the locale file has it. */
function sentenceAt(messages: Messages, key: string): string | undefined {
  let at: string | Messages | undefined = messages
  for (const part of key.split('.')) at = typeof at === 'object' ? at[part] : undefined
  return typeof at === 'string' ? at : undefined
}

const isValues = (given: readonly unknown[]): given is [Values] =>
  given.length === 1 && typeof given[0] === 'object' && given[0] !== null && !Array.isArray(given[0])

/**
 * Makes the sentences of a composer cheap. The library reads a sentence anew each time, half a millisecond of a slow
 * phone, and a line of a report says several at each key. A sentence is read once here for each language: those
 * without values stay as they are, and values are put between the pieces of the others. Everything else is left to
 * the library.
 * @example readOnce(i18n.global); i18n.global.t('cell.usual', { low: '3', high: '9' })
 */
export function readOnce(composer: Composer): void {
  const library = composer.t as (key: string, ...given: unknown[]) => string
  const whole = new Map<string, string>()
  /** Texts, with the name of a value after each but the last; null is for the library. */
  const pieces = new Map<string, readonly string[] | null>()

  function piecesOf(name: string, key: string): readonly string[] | null {
    let found = pieces.get(name)
    if (found === undefined) {
      const messages = composer.messages.value as Record<string, Messages>
      const sentence = sentenceAt(messages[composer.locale.value] ?? {}, key)
      found = sentence === undefined || IS_MORE.test(sentence) ? null : sentence.split(/\{(\w+)\}/)
      pieces.set(name, found)
    }
    return found
  }

  function t(key: string, ...given: unknown[]): string {
    const name = `${composer.locale.value} ${key}`
    if (!given.length) {
      const found = whole.get(name) ?? library(key)
      whole.set(name, found)
      return found
    }
    const known = isValues(given) ? piecesOf(name, key) : null
    if (!known) return library(key, ...given)
    const [values] = given as [Values]
    let said = ''
    known.forEach((piece, at) => {
      said += at % 2 ? String(values[piece] ?? '') : piece
    })
    return said
  }
  composer.t = t as Composer['t']
}
