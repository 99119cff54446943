import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { TextFinder } from './text-finder'

/** Few letters, so that parts are found often, with the white space that answers may have. */
const text = fc.string({ unit: fc.constantFrom('a', 'b', 'é', ' ', '\n'), maxLength: 8 })
const part = fc.string({ unit: fc.constantFrom('a', 'b', 'é'), minLength: 1, maxLength: 3 })

describe('looking for words in many texts', () => {
  it('finds the texts in which all of them stand, as a look into each text does', () => {
    fc.assert(
      fc.property(fc.array(text, { maxLength: 30 }), fc.array(part, { maxLength: 3 }), (texts, parts) => {
        const each = [...texts.keys()].filter(at => parts.every(one => texts[at]!.includes(one)))
        expect(new TextFinder(texts).find(parts)).toEqual(each)
      }),
    )
  })

  it('finds nothing across the end of a text, nor in no text', () => {
    expect(new TextFinder(['ab', 'ba']).find(['abba'])).toEqual([])
    expect(new TextFinder([]).find(['a'])).toEqual([])
    expect(new TextFinder([]).find([])).toEqual([])
  })
})
