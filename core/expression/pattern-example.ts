import { readPattern, type State } from './pattern'

/**
 * What people would type first: letters and digits that count on, then the usual signs, then the rest of
 * ASCII.
 */
const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ'
const DIGITS = '1234567890'
const SIGNS = '-/._ '
const REST = Array.from({ length: 95 }, (_, at) => String.fromCharCode(32 + at)).join('')

const turned = (text: string, by: number) => text.slice(by % text.length) + text.slice(0, by % text.length)

/**
 * A short text that matches a pattern: it tells people more than the pattern does. The shortest way through
 * its machine; null where the pattern is wrong, or only letters beyond ASCII fit.
 * @example exampleOf('[A-Z]{3}-\\d{4}') // 'ABC-5678'
 */
export function exampleOf(pattern: string): string | null {
  const states = readPattern(pattern)
  if (!states.ok) return null
  const machine = states.value
  const written = new Map<number, string>()
  let row = [machine.length - 1]
  written.set(machine.length - 1, '')
  while (row.length) {
    const next: number[] = []
    // States that are entered without a character join this row while it is walked.
    for (const at of row) {
      const { test, next: after } = machine[at]!
      const text = written.get(at)!
      const character = test && characterFor(test, text.length)
      if (test && character === undefined) continue
      for (const to of after) {
        if (written.has(to)) continue
        written.set(to, text + (character ?? ''))
        ;(test ? next : row).push(to)
      }
    }
    if (written.has(0)) return written.get(0)!
    row = next
  }
  return null
}

const characterFor = (test: NonNullable<State['test']>, place: number): string | undefined =>
  [...turned(LETTERS, place), ...turned(DIGITS, place), ...SIGNS, ...REST].find(test)
