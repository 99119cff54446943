import { labelled } from '../formats'
import { cellsOf, itemsOf, nameCell, wordsIn, type Band, type Edition, type Words } from '../report/edition'
import { axesOver, type RuleDefinition } from './definition'
import type { Doubt } from './find-doubts'
import { rulesOf } from './item-rules'

const HIGHER: Words = { en: 'much higher than before', fr: 'bien plus haut qu’avant' }
const LOWER: Words = { en: 'much lower than before', fr: 'bien plus bas qu’avant' }
const DIFFERS: Words = { en: 'the register says another number', fr: 'le registre dit un autre nombre' }
const RECOUNTED: Words = { en: 'the recount says another number', fr: 'le recomptage dit un autre nombre' }
const REFUSED: Words = { en: 'refused by another system', fr: 'refusé par un autre système' }
/** Where the numbers are not at hand. */
const OUTSIDE: Words = { en: 'much higher or lower than before', fr: 'bien plus haut ou plus bas qu’avant' }

type Titled = Pick<Doubt, 'source' | 'code' | 'band'> & { range?: Doubt['range'] }

/**
 * Says what the doubts of an edition are called: by rule (and band), cell, or count of cases, in each language of
 * the edition. What the edition no longer has is called by its code. Made once for many doubts, because an edition
 * has hundreds of cells and rules.
 *
 * @example titlesOfDoubts(edition)({ source: 'rule', code: 'stock_continues', band: 'bcg' }).en
 *   // 'Opening stock is not last month’s closing stock: BCG'
 */
export function titlesOfDoubts(edition: Edition): (doubt: Titled) => Words {
  const languages = Object.keys(edition.name)
  const cells = new Map(cellsOf(edition).map(cell => [cell.key, cell]))
  const rules = new Map(rulesOf(edition).map(rule => [rule.code, rule]))
  const items = new Map(itemsOf(edition).map(item => [item.code, item]))
  const counts = new Map(edition.caseCounts?.map(count => [count.code, count]))
  const inEach = (say: (language: string) => string): Words =>
    Object.fromEntries(languages.map(language => [language, say(language)]))
  const words = (name: Words) => (language: string) => wordsIn(name, language)

  /** The name of what the doubt is about. */
  function nameOf({ source, code, band }: Titled): ((language: string) => string) | undefined {
    switch (source) {
      case 'range':
      case 'refused': {
        const cell = cells.get(code)
        return cell && (language => nameCell(cell, language))
      }
      case 'cases': {
        const count = counts.get(code)
        return count && words(count.name)
      }
      case 'recount': {
        const item = items.get(code)
        return item && words(item.name)
      }
      case 'rule': {
        const rule = rules.get(code)
        if (!rule) return undefined
        const bands = bandsOf(edition, rule, band)
        return bands.length
          ? language => labelled(wordsIn(rule.name, language), bandNames(bands, language), language)
          : words(rule.name)
      }
    }
  }
  return doubt => {
    const name = nameOf(doubt)
    if (!name) return { en: doubt.code }
    const said = saidOf(doubt)
    return inEach(said ? language => labelled(name(language), wordsIn(said, language), language) : name)
  }
}

/** What is said of it, where its name does not say that already. */
function saidOf({ source, range }: Titled): Words | undefined {
  switch (source) {
    case 'range':
      return !range ? OUTSIDE : range.value > range.high ? HIGHER : LOWER
    case 'cases':
      return DIFFERS
    case 'recount':
      return RECOUNTED
    case 'refused':
      return REFUSED
    case 'rule':
      return undefined
  }
}

/** The bands that a rule was broken in, in the order of its axes. */
function bandsOf(edition: Edition, rule: RuleDefinition, band: string | null): Band[] {
  const codes = band?.split('.') ?? []
  return axesOver(rule).flatMap(
    (axis, at) =>
      edition.axes.find(({ code }) => code === axis)?.bands.find(({ code }) => code === codes[at]) ?? [],
  )
}

const bandNames = (bands: readonly Band[], language: string): string =>
  bands.map(band => wordsIn(band.name, language)).join(', ')
