import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { SMALL } from '../../tests/support/installation'
import { MEASLES_CASES } from '../../demo/registers/measles'
import { mergeDrafts } from './merge-drafts'

const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T
const codes = (edition: typeof SMALL) => edition.sections[0]!.items.map(({ code }) => code)

describe('two drafts of one beginning', () => {
  it('are put together where each changed something else', () => {
    const [mine, theirs] = [copy(SMALL), copy(SMALL)]
    mine.sections[0]!.items[0]!.name.en = 'Mine'
    theirs.sections[0]!.items[0]!.definition.en = 'Theirs'
    theirs.timing.dueDays = 3
    theirs.rules.push({ ...theirs.rules[0]!, code: 'more' })
    const { merged, both } = mergeDrafts(SMALL, mine, theirs)
    expect([
      merged.sections[0]!.items[0]!.name.en,
      merged.sections[0]!.items[0]!.definition.en,
      merged.timing.dueDays,
      merged.rules.length,
    ]).toEqual(['Mine', 'Theirs', 3, 3])
    expect(both).toEqual([])
  })

  it('keep mine where both changed the same, and tell', () => {
    const [mine, theirs] = [copy(SMALL), copy(SMALL)]
    mine.name.en = 'Mine'
    theirs.name.en = 'Theirs'
    theirs.name.fr = 'La leur'
    expect(mergeDrafts(SMALL, mine, theirs)).toMatchObject({
      merged: { name: { en: 'Mine', fr: 'La leur' } },
      both: ['name/en'],
    })
  })

  it('leave out what either took out, but not what the other changed meanwhile', () => {
    const [mine, theirs] = [copy(SMALL), copy(SMALL)]
    mine.sections[0]!.items.splice(0, 1) // tested
    theirs.sections[0]!.items.splice(1, 1) // positive
    expect(codes(mergeDrafts(SMALL, mine, theirs).merged)).toEqual(['seen'])
    theirs.sections[0]!.items[0]!.name.en = 'Tested by us'
    const { merged, both } = mergeDrafts(SMALL, mine, theirs)
    expect(codes(merged)).toEqual(['tested', 'seen'])
    expect(both).toEqual(['sections/all/items/tested'])
  })

  it('have what either added, where it stood, and my order where I changed it', () => {
    const [mine, theirs] = [copy(SMALL), copy(SMALL)]
    const extra = (code: string) => ({ ...copy(SMALL.sections[0]!.items[0]!), code })
    theirs.sections[0]!.items.splice(1, 0, extra('theirs'))
    mine.sections[0]!.items.reverse()
    mine.sections[0]!.items.push(extra('mine'))
    expect(codes(mergeDrafts(SMALL, mine, theirs).merged)).toEqual([
      'seen',
      'positive',
      'tested',
      'theirs',
      'mine',
    ])
  })

  it('are told apart by the code of a form in a register', () => {
    const [mine, theirs] = [copy(MEASLES_CASES), copy(MEASLES_CASES)]
    Object.assign(mine.forms[0]!.form.name, { en: 'Mine' })
    Object.assign(theirs.forms[1]!, { many: false })
    const { merged, both } = mergeDrafts(MEASLES_CASES, mine, theirs)
    expect([merged.forms[0]!.form.name.en, merged.forms[1]!.many, both]).toEqual(['Mine', false, []])
  })

  it('give either back when only one of them changed, whatever it is', () => {
    fc.assert(
      fc.property(fc.jsonValue(), fc.jsonValue(), (one, other) => {
        const [base, changed] = [
          JSON.parse(JSON.stringify(one)) as unknown,
          JSON.parse(JSON.stringify(other)) as unknown,
        ]
        expect(mergeDrafts(base, base, changed).merged).toEqual(changed)
        expect(mergeDrafts(base, changed, base).merged).toEqual(changed)
        expect(mergeDrafts(base, changed, changed)).toEqual({ merged: changed, both: [] })
      }),
    )
  })
})
