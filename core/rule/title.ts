import { labelled } from '../formats'
import { cellsOf, itemsOf, nameCell, wordsIn, type Edition, type Words } from '../report/edition'
import { axesOver } from './definition'
import type { Doubt } from './find-doubts'
import { rulesOf } from './item-rules'

const HIGHER: Words = { en: 'much higher than before', fr: 'bien plus haut qu’avant' }
const LOWER: Words = { en: 'much lower than before', fr: 'bien plus bas qu’avant' }
const DIFFERS: Words = { en: 'the register says another number', fr: 'le registre dit un autre nombre' }
const RECOUNTED: Words = { en: 'the recount says another number', fr: 'le recomptage dit un autre nombre' }
const REFUSED: Words = { en: 'refused by another system', fr: 'refusé par un autre système' }
/** Where the numbers are not at hand. */
const OUTSIDE: Words = { en: 'much higher or lower than before', fr: 'bien plus haut ou plus bas qu’avant' }

/** What a doubt is called: its rule (and band), its cell, or its count of cases, in each language of the edition. */
export function titleOfDoubt(
  edition: Edition,
  doubt: Pick<Doubt, 'source' | 'code' | 'band'> & { range?: Doubt['range'] },
): Words {
  const languages = Object.keys(edition.name)
  const inEach = (say: (language: string) => string) =>
    Object.fromEntries(languages.map(language => [language, say(language)]))
  if (doubt.source === 'range') {
    const cell = cellsOf(edition).find(({ key }) => key === doubt.code)
    const far = !doubt.range ? OUTSIDE : doubt.range.value > doubt.range.high ? HIGHER : LOWER
    return cell
      ? inEach(language => labelled(nameCell(cell, language), wordsIn(far, language), language))
      : { en: doubt.code }
  }
  if (doubt.source === 'cases') {
    const count = edition.caseCounts?.find(({ code }) => code === doubt.code)
    return count
      ? inEach(language => labelled(wordsIn(count.name, language), wordsIn(DIFFERS, language), language))
      : { en: doubt.code }
  }
  if (doubt.source === 'recount') {
    const item = itemsOf(edition).find(({ code }) => code === doubt.code)
    return item
      ? inEach(language => labelled(wordsIn(item.name, language), wordsIn(RECOUNTED, language), language))
      : { en: doubt.code }
  }
  if (doubt.source === 'refused') {
    const cell = cellsOf(edition).find(({ key }) => key === doubt.code)
    return cell
      ? inEach(language => labelled(nameCell(cell, language), wordsIn(REFUSED, language), language))
      : { en: doubt.code }
  }
  const rule = rulesOf(edition).find(({ code }) => code === doubt.code)
  if (!rule) return { en: doubt.code }
  const codes = doubt.band?.split('.') ?? []
  const bands = axesOver(rule).flatMap(
    (axis, at) =>
      edition.axes.find(({ code }) => code === axis)?.bands.find(({ code }) => code === codes[at]) ?? [],
  )
  return inEach(language => {
    const name = wordsIn(rule.name, language)
    return bands.length
      ? labelled(name, bands.map(band => wordsIn(band.name, language)).join(', '), language)
      : name
  })
}
