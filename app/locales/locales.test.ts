import { readdirSync, readFileSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import casesEn from './cases.en.json'
import casesFr from './cases.fr.json'
import defineEn from './define.en.json'
import defineFr from './define.fr.json'
import gatherEn from './gather.en.json'
import gatherFr from './gather.fr.json'
import shellEn from './en.json'
import shellFr from './fr.json'

const en = { ...shellEn, ...defineEn, ...casesEn, ...gatherEn }
const fr = { ...shellFr, ...defineFr, ...casesFr, ...gatherFr }

const keysOf = (words: object, before = ''): string[] =>
  Object.entries(words).flatMap(([key, value]) =>
    typeof value === 'string' ? [before + key] : keysOf(value as object, `${before}${key}.`),
  )

const textOf = (words: object, key: string) =>
  key.split('.').reduce<unknown>((at, part) => (at as Record<string, unknown>)[part], words) as string

const filesIn = (folder: string): string[] =>
  readdirSync(folder).flatMap(name => {
    const path = join(folder, name)
    return statSync(path).isDirectory() ? filesIn(path) : [path]
  })
const source = filesIn(join(import.meta.dirname, '..'))
  .filter(path => /\.(vue|ts)$/.test(path) && !path.endsWith('.test.ts'))
  .map(path => readFileSync(path, 'utf8'))
  .join('\n')

describe('the locale files', () => {
  it('have the same keys in English and French', () => {
    expect(keysOf(fr)).toEqual(keysOf(en))
  })

  it('put the same values into their sentences', () => {
    const blanks = (text: string) => [...new Set(text.match(/\{\w+\}/g) ?? [])].sort()
    expect(
      keysOf(en).filter(key => blanks(textOf(en, key)).join() !== blanks(textOf(fr, key)).join()),
    ).toEqual([])
  })

  it('what users met, 20: have narrow or no-break spaces where French typography asks for them', () => {
    // Common practice of French printing: a space that does not break before : ; ? ! and inside « ».
    const wrong = keysOf(fr).filter(key => / [:;?!»]|« /.test(textOf(fr, key)))
    expect(wrong).toEqual([])
    expect(keysOf(fr).filter(key => /[\u202f\u00a0][:;?!»]/.test(textOf(fr, key))).length).toBeGreaterThan(
      100,
    )
  })

  it('have every sentence that a page asks for', () => {
    const asked = [...source.matchAll(/\bt\('([a-z][\w.-]+)'/gi)].map(([, key]) => key!)
    expect(asked.length).toBeGreaterThan(150)
    const known = new Set(keysOf(en))
    expect([...new Set(asked)].filter(key => !known.has(key))).toEqual([])
  })

  it('have no sentence that nobody asks for', () => {
    // Keys put together from parts are asked for by their beginning, as in t(`state.${sign}`).
    const begun = [...source.matchAll(/[`']([a-z][\w.]*\.)\$\{/gi)].map(([, start]) => start!)
    const unused = keysOf(en).filter(
      key => !source.includes(`'${key}'`) && !begun.some(start => key.startsWith(start)),
    )
    expect(unused).toEqual([])
  })
})
