import { describe, expect, it } from 'vitest'
import { MONTHLY_SUMMARY } from '../../demo/monthly/edition'
import { itemsOf, type Edition, type Item } from '../report/edition'
import { differences } from './differences'
import { likeItem, readPastedList } from './paste-list'
import { readiness } from './readiness'

const items = itemsOf(MONTHLY_SUMMARY)
const read = (text: string) =>
  readPastedList(text, items).map(({ label, heading, match }) =>
    heading ? `# ${label}` : match ? `${label} = ${match.item.code}${match.sure ? '' : '?'}` : label,
  )
const edit = (change: (edition: Edition) => Partial<Edition>): Edition => ({
  ...MONTHLY_SUMMARY,
  ...change(MONTHLY_SUMMARY),
})
const withItems = (change: (item: Item) => Item | null): Edition =>
  edit(({ sections }) => ({
    sections: sections.map(section => ({
      ...section,
      items: section.items.flatMap(item => change(item) ?? []),
    })),
  }))

describe('a pasted list', () => {
  it('loses its numbering, bullets, quotes, empty lines and further cells', () => {
    expect(
      read(
        '1. Snake bites\r\n\r\n1.2 Dog bites\t12\t3\n\tBurns\n• "Drownings"\na) Falls\n(iv) Poisonings\n 3 - Fires\n12\t\n---',
      ),
    ).toEqual(['Snake bites', 'Dog bites', 'Burns', 'Drownings', 'Falls', 'Poisonings', 'Fires'])
  })

  it('what users met, 16: a line without a number among numbered ones is a heading of those that follow', () => {
    const form =
      'Nutrition of children\n1. Weighed\n2. Underweight\n3. Measured\nNutrition of mothers\n4. Arm measured\n5. Thin\n6. Given food'
    expect(read(form)).toEqual([
      '# Nutrition of children',
      'Weighed',
      'Underweight',
      'Measured',
      '# Nutrition of mothers',
      'Arm measured',
      'Thin',
      'Given food',
    ])
    // From a spreadsheet the number is a cell of its own.
    expect(read('Stock\n1\tVaccine\n2\tSyringes\n3\tBoxes')).toEqual([
      '# Stock',
      'Vaccine',
      'Syringes',
      'Boxes',
    ])
    // Where few lines have numbers nothing is guessed.
    expect(read('Weighed\n1. Underweight\nMeasured\nThin')).toEqual([
      'Weighed',
      'Underweight',
      'Measured',
      'Thin',
    ])
  })

  it('keeps a number that is part of the name', () => {
    expect(read('3 days without vaccine\n2nd dose given')).toEqual([
      '3 days without vaccine',
      '2nd dose given',
    ])
  })

  it('finds headings, and the items that are there already, in either language', () => {
    expect(
      read('DELIVERIES AND NEWBORNS\nInjuries\nBlessures\nInjuriess\nOther things:\nTested for anemia'),
    ).toEqual([
      '# DELIVERIES AND NEWBORNS',
      'Injuries = injuries',
      'Blessures = injuries',
      'Injuriess = injuries?',
      '# Other things',
      'Tested for anemia = anaemia_tested?',
    ])
  })

  it('does not take a second dose for a first, nor a name for itself', () => {
    const doses = [{ ...items[0]!, code: 'dose_1', name: { en: 'Vaccine, dose 1' } }]
    expect(likeItem('Vaccine, dose 2', doses)).toBeNull()
    expect(likeItem('Vaccine dose 1', doses)).toEqual({ item: doses[0], sure: true })
    expect(likeItem('Vaccine dose 1', doses, 'dose_1')).toBeNull()
    expect(likeItem('…', doses)).toBeNull()
    expect(readPastedList('', items)).toEqual([])
  })
})

describe('what a draft lacks', () => {
  const lacks = (draft: Edition, reporting = 72) =>
    readiness(draft, reporting, ['en', 'fr']).map(({ weight, code, at }) => `${weight} ${code} ${at}`)

  it('is nothing for the demo’s dataset', () => {
    expect(lacks(MONTHLY_SUMMARY).filter(line => line.startsWith('must'))).toEqual([])
  })

  it('is told: nobody reports it, nothing is in it, no definition, no translation, no range', () => {
    expect(lacks(MONTHLY_SUMMARY, 0)).toContain('must nobody-reports dataset')
    expect(lacks(edit(() => ({ sections: [], rules: [], indicators: [] })))).toEqual([
      'must no-items dataset',
    ])
    const bare = lacks(
      withItems(item =>
        item.code === 'injuries' ? { ...item, name: { en: 'Injuries' }, definition: {}, range: null } : item,
      ),
    )
    expect(bare.filter(line => line.includes('injuries'))).toEqual([
      'should no-name-in items/injuries',
      'should no-definition items/injuries',
      'should no-range items/injuries',
    ])
  })

  it('is told: two items of one code, a rule or an indicator on an item that left', () => {
    expect(
      lacks(withItems(item => (item.code === 'injuries' ? { ...item, code: 'pneumonia' } : item))),
    ).toContain('must outline items/pneumonia')
    const left = lacks(withItems(item => (item.code === 'caesareans' ? null : item)))
    expect(
      left.filter(line => line.startsWith('must')).map(line => line.split(' ').slice(1).join(' ')),
    ).toEqual(
      expect.arrayContaining([
        expect.stringMatching(/^rule rules\//),
        'indicator indicators/caesarean_share',
      ]),
    )
  })
})

describe('the differences of two editions', () => {
  const told = (after: Edition) =>
    differences(MONTHLY_SUMMARY, after).map(({ what, change, code, parts }) =>
      [what, change, code, ...(parts ?? [])].join(' '),
    )

  it('are none between one and itself', () => {
    expect(told(MONTHLY_SUMMARY)).toEqual([])
  })

  it('are items that came, left, changed or moved; rules, indicators, axes and days', () => {
    expect(told(withItems(item => (item.code === 'injuries' ? null : item)))).toEqual([
      'item removed injuries',
    ])
    expect(
      told(withItems(item => (item.code === 'injuries' ? { ...item, rollUp: 'none', axes: [] } : item))),
    ).toEqual(['item changed injuries rollUp axes'])
    expect(
      told(
        edit(({ sections: [first, ...rest] }) => ({
          sections: [
            { ...first!, items: [...first!.items, { ...first!.items[0]!, code: 'bites' }] },
            ...rest,
          ],
        })),
      ),
    ).toEqual(['item added bites'])
    expect(
      told(
        edit(({ sections: [first, second, ...rest] }) => ({
          sections: [
            { ...first!, items: first!.items.slice(0, -1) },
            { ...second!, items: [...second!.items, first!.items.at(-1)!] },
            ...rest,
          ],
        })),
      ),
    ).toEqual(['item moved days_open'])
    expect(
      told(edit(({ rules, timing }) => ({ rules: rules.slice(1), timing: { ...timing, dueDays: 9 } }))),
    ).toEqual([`rule removed ${MONTHLY_SUMMARY.rules[0]!.code}`, 'timing changed timing dueDays'])
  })
})
