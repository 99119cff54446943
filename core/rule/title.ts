import { cellsOf, nameCell, wordsIn, type Edition, type Words } from '../report/edition'
import { axesOver } from './definition'
import type { Doubt } from './find-doubts'

const FAR: Words = { en: 'far from usual', fr: 'loin de l’habitude' }

/** What a doubt is called: its rule (and band), or its cell, in each language of the edition. */
export function titleOfDoubt(edition: Edition, doubt: Pick<Doubt, 'source' | 'code' | 'band'>): Words {
  const languages = Object.keys(edition.name)
  const inEach = (say: (language: string) => string) => Object.fromEntries(languages.map(language => [language, say(language)]))
  if (doubt.source === 'range') {
    const cell = cellsOf(edition).find(({ key }) => key === doubt.code)
    return cell ? inEach(language => `${nameCell(cell, language)}: ${FAR[language] ?? FAR.en}`) : { en: doubt.code }
  }
  const rule = edition.rules.find(({ code }) => code === doubt.code)
  if (!rule) return { en: doubt.code }
  const codes = doubt.band?.split('.') ?? []
  const bands = axesOver(rule).flatMap((axis, at) => edition.axes.find(({ code }) => code === axis)?.bands.find(({ code }) => code === codes[at]) ?? [])
  return inEach(language => [wordsIn(rule.name, language), bands.map(band => wordsIn(band.name, language)).join(', ')].filter(Boolean).join(': '))
}
