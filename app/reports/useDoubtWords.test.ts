import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, reactive } from 'vue'
import type { Edition } from '#core/report/edition'
import { giveGlobals } from '../../tests/support/nuxt-globals'
import { namesOfEdition } from './useDoubtWords'

const band = (code: string, name = code) => ({ code, name: { en: name } })
const axis = (code: string, ...bands: ReturnType<typeof band>[]) => ({ code, name: { en: code }, bands })
const item = (code: string, name: string) => ({ code, name: { en: name }, kind: 'wholeNumber' })
const edition = () =>
  ({
    axes: [
      axis('age', band('u20'), band('unknown', 'Age unknown')),
      axis('sex', band('unknown', 'Sex unknown')),
    ],
    sections: [{ items: [item('births', 'Births')] }, { items: [item('deaths', 'Deaths')] }],
    others: [{ dataset: 'stock', axes: [axis('kind', band('tin'))], items: [item('births', 'Birth kits')] }],
  }) as unknown as Edition

beforeEach(() => giveGlobals())
afterEach(() => vi.unstubAllGlobals())

describe('the names in what is said of a doubt', () => {
  it('are those of the edition, or of the other dataset that is named', () => {
    const names = namesOfEdition(edition())
    expect(names.item('deaths')?.name).toEqual({ en: 'Deaths' })
    expect(names.item('births')?.name).toEqual({ en: 'Births' })
    expect(names.item('births', 'stock')?.name).toEqual({ en: 'Birth kits' })
    expect([names.item('deaths', 'stock'), names.item('births', 'visits')]).toEqual([undefined, undefined])
  })

  it('find a band by its code, and by its axis where two have the same', () => {
    const names = namesOfEdition(edition())
    expect(
      ['u20', 'unknown', 'age.unknown', 'sex.unknown', 'tin', 'o20'].map(code => names.band(code)?.en),
    ).toEqual(['u20', 'Age unknown', 'Age unknown', 'Sex unknown', 'tin', undefined])
  })

  it('follow an edition that is changed in its place', () => {
    const changing = reactive(edition())
    const names = effectScope().run(() => namesOfEdition(changing))!
    expect(names.item('births')?.name).toEqual({ en: 'Births' })
    changing.sections[0]!.items[0]!.code = 'live_births'
    expect(names.item('live_births')?.name).toEqual({ en: 'Births' })
  })
})
