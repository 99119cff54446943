import { cellsOf, nameCell, type Edition, type Words } from '../report/edition'
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
  const band = edition.axes.find(({ code }) => code === rule.over)?.bands.find(({ code }) => code === doubt.band)
  return inEach(language => [rule.name[language] ?? rule.name.en, band && (band.name[language] ?? band.name.en)].filter(Boolean).join(': '))
}
