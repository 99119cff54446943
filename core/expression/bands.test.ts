import { describe, expect, it } from 'vitest'
import { readiness } from '../define/readiness'
import type { Axis, Edition, Item } from '../report/edition'
import { tableOf } from '../report/table'
import { must } from '../result'
import { compileRules } from '../rule/compile-rules'
import { withRules } from '../rule/rules.fixture'
import { compile } from './compile'
import { explain } from './explain'
import { inWords } from './in-words'
import { parse } from './parse'
import { print } from './print'
import { renameCode } from './rename'
import { scan } from './scan'
import { complete } from './complete'
import { vocabularyOf } from './vocabulary'

const words = (en: string) => ({ en, fr: en })
const axis = (code: string, ...bands: string[]): Axis => ({
  code,
  name: words(code),
  bands: bands.map(band => ({ code: band, name: words(`${code} ${band}`) })),
})
const item = (code: string, ...axes: string[]): Item => ({
  code,
  name: words(code),
  definition: words(code),
  unitOfMeasure: '',
  kind: 'wholeNumber',
  rollUp: 'sum',
  range: null,
  axes,
})
const EDITION: Edition = {
  ...withRules(),
  axes: [axis('age', 'u5', 'o5', 'unknown'), axis('sex', 'f', 'm', 'unknown')],
  indicators: [],
  sections: [{ code: 's', name: words('S'), items: [item('a', 'age', 'sex'), item('b', 'age')] }],
}
const VOCABULARY = vocabularyOf(EDITION)
/** Each cell a different power of two, so that a sum tells what is in it. */
const KEYS = ['u5', 'o5', 'unknown'].flatMap(age => ['f', 'm', 'unknown'].map(sex => `a.${age}.${sex}`))
const table = tableOf([
  Object.fromEntries(KEYS.map((key, at) => [key, { kind: 'value' as const, value: 2 ** at }])),
])
const cellsOf = (text: string) => {
  const compiled = compile(text, VOCABULARY)
  return compiled.ok
    ? compiled.value.cells
    : compiled.problems.map(({ code, values }) => [code, values?.hint])
}

describe('numbers right, 3: a band code that two axes share', () => {
  it('is refused where it could be of both, with the ways to write it', () => {
    expect(cellsOf('a[unknown]')).toEqual([['expression-band-two-axes', 'age.unknown, sex.unknown']])
  })

  it.each([
    ['a[age.unknown]', ['a.unknown.f', 'a.unknown.m', 'a.unknown.unknown']],
    ['a[sex.unknown]', ['a.u5.unknown', 'a.o5.unknown', 'a.unknown.unknown']],
    ['a[u5, unknown]', ['a.u5.unknown']],
    ['a[unknown, m]', ['a.unknown.m']],
    ['a[unknown, unknown]', ['a.unknown.unknown']],
    ['a[sex.unknown, u5]', ['a.u5.unknown']],
  ])('%s is %s', (text, cells) => {
    expect(cellsOf(text)).toEqual(cells)
    const compiled = must(compile(text, VOCABULARY))
    expect(compiled.run(table)[0]).toBe(cells.reduce((sum, key) => sum + 2 ** KEYS.indexOf(key), 0))
    expect(print(parse(scan(text).tokens).tree)).toBe(text)
  })

  it('has a name, an offer and a new code of its own in each axis', () => {
    const compiled = must(compile('a[age.unknown] = 1', VOCABULARY))
    expect(inWords(compiled, 'en')).toBe('a (age unknown) is equal to 1')
    expect(explain(compiled, table, 0).left.parts).toMatchObject([{ item: 'a', bands: ['age.unknown'] }])
    expect(complete('a[', 2, VOCABULARY).map(({ insert }) => insert)).toEqual([
      'u5',
      'o5',
      'age.unknown',
      'f',
      'm',
      'sex.unknown',
    ])
    const text = 'a[age.unknown] <= a[u5, unknown] + b[unknown]'
    expect(renameCode(text, { what: 'band', axis: 'age', from: 'unknown', to: 'nk' }, VOCABULARY)).toBe(
      'a[age.nk] <= a[u5, unknown] + b[nk]',
    )
    expect(renameCode(text, { what: 'band', axis: 'sex', from: 'unknown', to: 'nk' }, VOCABULARY)).toBe(
      'a[age.unknown] <= a[u5, nk] + b[unknown]',
    )
  })

  it('is the band of the axis that a rule goes over', () => {
    const rules = must(
      compileRules({
        ...EDITION,
        rules: [
          { ...withRules({ expression: 'a[f] <= b' }).rules[0]!, over: 'age' },
          { ...withRules({ expression: 'a[sex.unknown] >= 0' }).rules[0]!, code: 'second', over: 'age' },
        ],
      }),
    )
    expect(rules.map(({ band, compiled: { cells } }) => [band, cells])).toEqual([
      ['u5', ['a.u5.f', 'b.u5']],
      ['o5', ['a.o5.f', 'b.o5']],
      ['unknown', ['a.unknown.f', 'b.unknown']],
      ['u5', ['a.u5.unknown']],
      ['o5', ['a.o5.unknown']],
      ['unknown', ['a.unknown.unknown']],
    ])
  })

  it('twice in one axis stands against publishing', () => {
    const lacks = readiness({ ...EDITION, axes: [axis('age', 'u5', 'u5'), EDITION.axes[1]!] }, 1, ['en'])
    expect(
      lacks.filter(({ weight }) => weight === 'must').map(({ at, problem }) => [at, problem?.code]),
    ).toContainEqual(['axes/age', 'form-band-double'])
  })
})
