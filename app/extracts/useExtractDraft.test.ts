import { describe, expect, it } from 'vitest'
import type { FieldLine } from '#core/contract/extracts'
import { firstColumns } from './useExtractDraft'

const field = (key: string, isPersonal = false): FieldLine => ({
  ...{ key, short: key, path: key, label: { en: key }, type: 'text', sections: [], repeat: null },
  inTable: null,
  isPersonal,
})
const keysOf = (...asked: Parameters<typeof firstColumns>) => firstColumns(...asked).map(({ key }) => key)

describe('the columns that a new extract begins with', () => {
  const FIELDS = ['@case', '@unit', '@unit_name', '@last_on', '@outcome', 'sex', 'rash_on'].map(key =>
    field(key),
  )

  it('are what a row is, then the answers in paper order, and nothing personal', () => {
    expect(keysOf('case', [...FIELDS.slice(0, 5), field('full_name', true), ...FIELDS.slice(5)])).toEqual([
      ...['@case', '@unit', '@unit_name', '@last_on'],
      ...['sex', 'rash_on'],
    ])
  })

  it('of cells are those of a cell: the answers say which cells are rows', () => {
    const about = ['@unit', '@unit_name', '@period', '@item', '@value'].map(key => field(key))
    expect(keysOf('cell', [...about, field('tested')])).toEqual(about.map(({ key }) => key))
  })
})
