import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { parsePattern } from './pattern'
import { exampleOf } from './pattern-example'
import { must } from '../result'

/** Random patterns of the language that mean the same to JavaScript's own matcher. */
const { pattern } = fc.letrec<{ pattern: string }>(tie => ({
  pattern: fc.oneof(
    { maxDepth: 4, depthSize: 'small' },
    fc.constantFrom('a', 'b', '.', '[ab]', '[^a]', '\\d', '\\w', '[a-c1]', '\\.', 'é'),
    fc.tuple(tie('pattern'), tie('pattern')).map(([one, other]) => one + other),
    fc.tuple(tie('pattern'), tie('pattern')).map(([one, other]) => `(${one}|${other})`),
    fc
      .tuple(tie('pattern'), fc.constantFrom('*', '+', '?', '{2}', '{1,}', '{0,2}'))
      .map(([one, repeat]) => `(${one})${repeat}`),
  ),
}))

describe('patterns', () => {
  it('match what JavaScript’s own matcher matches', () => {
    fc.assert(
      fc.property(
        pattern,
        fc.array(fc.constantFrom('a', 'b', 'c', '1', '.', 'é', ' '), { maxLength: 8 }),
        (text, characters) => {
          const subject = characters.join('')
          expect(must(parsePattern(text))(subject)).toBe(new RegExp(`^(?:${text})$`, 'su').test(subject))
        },
      ),
      { numRuns: 3000 },
    )
  })

  it.each(['(a*)*b', '(a|a)*b', '(a+)+b', '(.*)*(.*)*(.*)*x', '((a?){20}){20}b'])(
    '%s does not hang on a long text that nearly matches',
    text => {
      // A backtracking matcher would take longer than the universe is old.
      expect(must(parsePattern(text))('a'.repeat(5_000))).toBe(false)
    },
  )

  it.each([
    ['(', 'not closed'],
    ['[a', 'not closed'],
    ['a)', 'does not follow'],
    ['*a', 'nothing before'],
    ['a{', '{2}'],
    ['a{3,1}', 'backwards'],
    ['[z-a]', 'backwards'],
    ['(?=a)', 'not in the language'],
    ['\\1', 'not in the language'],
    ['^a$', 'not needed'],
    ['a\\', 'after the last'],
    ['(a{999}){999}', 'more than'],
    ['a'.repeat(201), 'at most'],
  ])('refuses %s with the reason', (text, reason) => {
    const parsed = parsePattern(text)
    expect(!parsed.ok && parsed.problems[0]!.message).toContain(reason)
  })
})

describe('what users met, 17: an example of a pattern', () => {
  it.each([
    ['[A-Z]{3}-\\d{4}', 'ABC-5678'],
    ['\\d+', '1'],
    ['(ASH|NOR)/\\d{2}', 'ASH/56'],
    ['[a-z]+@x', 'a@x'],
    ['', ''],
    ['(', null],
    ['[é]', null],
  ])('%s is told as %s', (pattern, example) => expect(exampleOf(pattern)).toBe(example))

  it('matches its pattern, whatever the pattern', () => {
    const piece = fc.constantFrom('a', 'B', '7', '\\d', '\\w', '[A-F]', '[^0-9]', '.', '(x|yz)', '\\.')
    const part = fc
      .tuple(piece, fc.constantFrom('', '+', '*', '?', '{2}', '{1,3}'))
      .map(([of, times]) => of + times)
    fc.assert(
      fc.property(
        fc.array(part, { maxLength: 6 }).map(parts => parts.join('')),
        pattern => must(parsePattern(pattern))(exampleOf(pattern)!),
      ),
    )
  })
})
