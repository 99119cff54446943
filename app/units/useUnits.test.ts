import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { ref } from 'vue'
import type { UnitLine, UnitList } from '#core/contract/units'
import { giveGlobals } from '../../tests/support/nuxt-globals'
import { useUnits } from './useUnits'

const unit = (code: string, name: string, parent: string | null, level: number): UnitLine => ({
  code,
  name,
  parent,
  level,
  kind: '',
  latitude: null,
  longitude: null,
  open: true,
})
const LIST: UnitList = {
  day: '2026-11-09',
  levels: [{ en: 'Region' }, { en: 'District' }],
  districtLevel: 2,
  facilityLevel: 3,
  more: false,
  units: [
    unit('coast', 'Coast', null, 1),
    unit('ashmere', 'Ashmere', 'coast', 2),
    unit('elan', 'Élan Health Post', 'ashmere', 4),
    unit('quay', 'Ashmere Quay', 'ashmere', 4),
    ...Array.from({ length: 80 }, (_, at) => unit(`f${at}`, `Facility ${at}`, 'coast', 4)),
  ],
}

beforeEach(() =>
  giveGlobals({
    useWords: () => ({
      t: (key: string) => key,
      say: (words: { en: string }) => words.en,
      locale: ref('en'),
    }),
  }),
)
afterEach(() => vi.unstubAllGlobals())

describe('the tree of units in the browser', () => {
  it('knows who is below whom by name, and paths in words', () => {
    const units = useUnits(() => LIST)
    expect(units.children.value.get('ashmere')!.map(({ code }) => code)).toEqual(['quay', 'elan'])
    expect([units.pathText('elan'), units.pathText('coast'), units.levelName(2), units.levelName(4)]).toEqual(
      ['Coast › Ashmere', 'units.top', 'District', '4'],
    )
  })

  it('finds by any parts of a name or code, without accents, what begins so first, and not without end', () => {
    const units = useUnits(() => LIST)
    expect(units.find('ash').units.map(({ code }) => code)).toEqual(['ashmere', 'quay'])
    expect(units.find('POST élan').units.map(({ code }) => code)).toEqual(['elan'])
    expect(units.find('facility')).toMatchObject({ count: 80 })
    expect(units.find('facility').units).toHaveLength(50)
    expect([units.find('  ').count, units.find('moon').count, useUnits(() => null).find('a').count]).toEqual([
      0, 0, 0,
    ])
  })

  it('finds what is near first: the own district before the others', () => {
    const far = [unit('far', 'Quay of Farland', null, 1), unit('farther', 'Ashmere Farther', 'far', 4)]
    const units = useUnits(() => ({ ...LIST, units: [...far, ...LIST.units] }))
    expect(units.find('a quay', undefined, 'elan').units.map(({ code }) => code)).toEqual(['quay', 'far'])
    expect(units.find('ashmere', ({ level }) => level === 4, 'f1').units.map(({ code }) => code)).toEqual([
      'quay',
      'farther',
    ])
    expect([
      units.nearness('elan', 'elan') > units.nearness('quay', 'elan'),
      units.nearness('quay', 'elan') > units.nearness('f1', 'elan'),
    ]).toEqual([true, true])
  })

  it('of a branch has its top at the top', () => {
    const units = useUnits(() => ({ ...LIST, units: LIST.units.filter(({ code }) => code !== 'coast') }))
    expect(units.children.value.get(null)!.map(({ code }) => code)).toContain('ashmere')
  })
})
