import { describe, expect, it } from 'vitest'
import { createI18n, type Composer } from 'vue-i18n'
import casesEn from '../locales/cases.en.json'
import casesFr from '../locales/cases.fr.json'
import defineEn from '../locales/define.en.json'
import defineFr from '../locales/define.fr.json'
import gatherEn from '../locales/gather.en.json'
import gatherFr from '../locales/gather.fr.json'
import en from '../locales/en.json'
import fr from '../locales/fr.json'
import { readOnce } from './sentences'

const messages = {
  en: { ...en, ...defineEn, ...casesEn, ...gatherEn },
  fr: { ...fr, ...defineFr, ...casesFr, ...gatherFr },
}
const composer = (locale: 'en' | 'fr' = 'en', own: object = messages) =>
  createI18n({
    legacy: false,
    locale,
    fallbackLocale: 'en',
    messages: own as typeof messages,
    missingWarn: false,
    fallbackWarn: false,
  }).global as Composer
const read = (...given: Parameters<typeof composer>) => {
  const made = composer(...given)
  readOnce(made)
  return made
}

/** All keys of the locale files, each with the names of its values. */
const sentences = (words: object, before = ''): { key: string; names: string[] }[] =>
  Object.entries(words).flatMap(([key, value]) =>
    typeof value === 'string'
      ? [{ key: before + key, names: [...value.matchAll(/\{(\w+)\}/g)].map(([, name]) => name!) }]
      : sentences(value as object, `${before}${key}.`),
  )

describe('sentences that are read once', () => {
  it('are those of the library, each of both languages, with values and without, the second time too', () => {
    for (const locale of ['en', 'fr'] as const) {
      const [library, ours] = [composer(locale), read(locale)]
      const all = sentences(messages[locale])
      expect(all.filter(({ names }) => names.length).length).toBeGreaterThan(200)
      for (const { key, names } of all) {
        const values = Object.fromEntries(names.map((name, at) => [name, at % 2 ? at : `‹${name}›`]))
        const given = names.length ? [values] : []
        const said = library.t(key, ...(given as [Record<string, unknown>]))
        for (let turn = 0; turn < 2; turn++)
          expect(ours.t(key, ...(given as [Record<string, unknown>]))).toBe(said)
      }
    }
  })

  it('follow the language, and fall back to English where it has none', () => {
    const own = { en: { a: { b: 'Two {what}', c: 'Only {what}' } }, fr: { a: { b: 'Deux {what}' } } }
    const made = read('en', own)
    expect(made.t('a.b', { what: 'x' })).toBe('Two x')
    made.locale.value = 'fr'
    expect([made.t('a.b', { what: 'x' }), made.t('a.c', { what: 'x' })]).toEqual(['Deux x', 'Only x'])
  })

  it('leave to the library what is more than values: one and many, lists, a value that is missing, no sentence', () => {
    const own = {
      en: { days: '1 day | {days} days', listed: 'From {0} to {1}', lacks: 'A {what} of {whom}' },
    }
    const [library, ours] = [composer('en', own), read('en', own)]
    const asked: [string, ...unknown[]][] = [
      ['days', { days: 3 }, 3],
      ['days', { days: 1 }, 1],
      ['days', 3],
      ['listed', ['here', 'there']],
      ['lacks', { what: 'part' }],
      ['lacks', { what: null, whom: '{what}' }],
      ['none.such', { what: 'x' }],
    ]
    for (const [key, ...given] of asked)
      expect(ours.t(key, ...(given as [Record<string, unknown>]))).toBe(
        library.t(key, ...(given as [Record<string, unknown>])),
      )
  })
})
