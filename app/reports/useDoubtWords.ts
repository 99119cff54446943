import type { DiscrepancyFile } from '#core/contract/discrepancies'
import type { Explanation, Side, Term } from '#core/expression/explain'
import { countWords } from '#core/expression/in-words'
import { likelySlips } from '#core/quality/likely-slips'
import { itemsOf, wordsIn, type Axis, type Edition, type Item, type Words } from '#core/report/edition'
import type { Doubt } from '#core/rule/find-doubts'

const isDay = (value: unknown) => typeof value === 'string' && /^\d{4}-\d{2}-\d{2}$/.test(value)

type NamedItem = Pick<Item, 'name' | 'kind'> & Partial<Item>

/** Where the names of items and bands are found. */
export interface DoubtNames {
  /** @param source the code of another dataset that it is of */
  item: (code: string, source?: string) => NamedItem | undefined
  band: (code: string) => Words | undefined
  /** @param text a count of cases as it is printed */
  count?: (text: string) => Words | undefined
}

const byCode = (items: readonly (NamedItem & Pick<Item, 'code'>)[]) =>
  new Map<string, NamedItem>(items.map(item => [item.code, item]))

/** The names of bands by their code, and by `age.unknown` where another axis has a band of that code too. */
function bandNames(axes: readonly Axis[]): Map<string, Words> {
  const found = new Map<string, Words>()
  for (const axis of axes)
    for (const { code, name } of axis.bands)
      for (const one of [code, `${axis.code}.${code}`]) if (!found.has(one)) found.set(one, name)
  return found
}

/**
 * The names of an edition, put in order when the first is asked for, and anew when the edition changes: a report on a
 * slow phone asks for some at each key.
 */
export function namesOfEdition(edition: Edition): DoubtNames {
  const others = edition.others ?? []
  const items = computed(
    () =>
      new Map([
        [undefined, byCode(itemsOf(edition))],
        ...others.map(({ dataset, items }) => [dataset, byCode(items)] as const),
      ]),
  )
  const bands = computed(() => bandNames([edition, ...others].flatMap(({ axes }) => axes)))
  return {
    item: (code, source) => items.value.get(source)?.get(code),
    band: code => bands.value.get(code),
    count: text => countWords(edition, text),
  }
}

/** The names that a discrepancy brings along. */
export const namesOfFile = ({
  items,
  counts = {},
}: Pick<DiscrepancyFile, 'items' | 'counts'>): DoubtNames => ({
  item: (code, source) => items[itemKey(code, source)]?.item,
  band: code =>
    Object.values(items)
      .map(({ bands }) => bands[code])
      .find(Boolean),
  count: text => counts[text],
})

/** The key of an item among those that a discrepancy names. */
export const itemKey = (code: string, source?: string): string => (source ? `${source}.${code}` : code)

/** Doubts in a person's words, with the numbers put in. */
export function useDoubtWords(namesOf: () => DoubtNames) {
  // Once for all that is said of them.
  const names = computed(namesOf)
  const words = useWords()
  const { t, locale } = words
  const { valueText } = useCellText()
  const called = (found: Words | undefined, code: string) => (found ? wordsIn(found, locale.value) : code)

  const termName = ({ item, source, count, recounted, bands, back }: Omit<Term, 'value'>) => {
    if (recounted) return t('doubt.recount')
    const name = [
      called((count && names.value.count?.(count)) || names.value.item(item, source)?.name, count ?? item),
      ...bands.map(band => called(names.value.band(band), band)),
    ].join(', ')
    return back ? t('doubt.before', { name }) : name
  }

  /** A chosen code by its label, a number in the person's way. */
  const termValue = ({ item, source, value }: Term) => {
    const known = typeof value === 'string' && names.value.item(item, source)
    return known ? valueText(known as Item, value) : words.value(value)
  }

  /** “Live births 64 + Stillbirths, fresh 1 = 65” */
  function sideText(side: Side, withValue = side.parts.length > 1): string {
    const text = side.parts
      .map(part =>
        typeof part === 'string'
          ? words.value(part.replaceAll('*', '×'))
          : `${termName(part)} ${termValue(part)}`,
      )
      .join('')
    return withValue ? `${text} = ${words.value(side.value)}` : text
  }

  /** “Deliveries: blank, Live births: 64”: what a condition looked at, without its signs. */
  function namedValues(side: Side): string {
    const terms = side.parts.flatMap(part =>
      typeof part === 'string'
        ? []
        : [words.pair(termName(part), part.value === null ? t('cell.blank') : termValue(part))],
    )
    return terms.length ? [...new Set(terms)].join(', ') : sideText(side, false)
  }

  /** “Perhaps 27, with two digits the other way round?”; empty where no slip of the hand explains the value. */
  function slipText({ value, low, high }: NonNullable<Doubt['range']>): string {
    const [slip] = likelySlips(value, { low, high })
    return slip ? t(`doubt.slip.${slip.slip}`, { meant: words.number(slip.meant) }) : ''
  }

  /** “live births 64 > deliveries 46, over by 18”, or the value with its usual range, and what may be meant. */
  function numbers(doubt: Doubt): string {
    if (doubt.range) {
      const said = t(doubt.range.value > doubt.range.high ? 'doubt.above' : 'doubt.below', {
        value: words.number(doubt.range.value),
        low: words.number(doubt.range.low),
        high: words.number(doubt.range.high),
      })
      return [said, slipText(doubt.range)].filter(Boolean).join(' ')
    }
    return doubt.explanation ? explained(doubt.explanation, true) : ''
  }

  /** How far two sides are apart: days as days. */
  const distanceText = ({ left, by }: Pick<Explanation, 'left' | 'by'>) =>
    isDay(left.value) && by !== undefined ? words.days(by) : words.number(by)

  /**
   * “Opening stock is 190, but closing stock last time is 160”; a comparison of more with its numbers and the
   * difference; anything else with its parts. @param truth whether that is a condition: what it looked at is
   * named, without its signs.
   */
  function explained({ left, right, relation, by }: Explanation, truth = false): string {
    if (!right || !relation) return truth ? namedValues(left) : sideText(left)
    const [one, other] = [left.parts[0], right.parts[0]]
    if (
      by !== 0 &&
      left.parts.length === 1 &&
      right.parts.length === 1 &&
      typeof one === 'object' &&
      typeof other === 'object'
    ) {
      return t('doubt.differ', {
        left: termName(one),
        one: words.value(left.value),
        right: termName(other),
        other: words.value(right.value),
      })
    }
    if (by === 0) return `${sideText(left)} ${relation} ${sideText(right)}`
    return t('doubt.compared', {
      left: sideText(left),
      relation,
      right: sideText(right),
      by: distanceText({ left, by }),
    })
  }

  return { numbers, explained, sideText, slipText, termName, distanceText }
}
