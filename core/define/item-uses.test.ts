import { describe, expect, it } from 'vitest'
import { MONTHLY_SUMMARY } from '../../demo/monthly/edition'
import type { Edition } from '../report/edition'
import { usesOfItem } from './item-uses'

const withRule = (expression: string): Edition => ({
  ...MONTHLY_SUMMARY,
  rules: [{ ...MONTHLY_SUMMARY.rules[0]!, name: { en: 'The rule' }, expression }],
  indicators: [
    {
      ...MONTHLY_SUMMARY.indicators[0]!,
      name: { en: 'The share' },
      numerator: 'injuries',
      denominator: 'admissions',
    },
  ],
})
const uses = (edition: Edition, code: string) => usesOfItem(edition, code).map(({ en }) => en)

describe('what uses an item', () => {
  it('are the rules and indicators that name it, by its code and not by a part of one', () => {
    const edition = withRule('injuries <= admissions')
    expect(uses(edition, 'injuries')).toEqual(['The rule', 'The share'])
    expect(uses(edition, 'admissions')).toEqual(['The rule', 'The share'])
    expect(uses(edition, 'injur')).toEqual([])
    expect(uses(edition, 'days_open')).toEqual([])
  })

  it('are also rules that are half written', () => {
    expect(uses(withRule('injuries <= '), 'injuries')).toEqual(['The rule', 'The share'])
    expect(uses(withRule('days_open + '), 'days_open')).toEqual(['The rule'])
  })
})
