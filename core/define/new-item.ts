import { isTypedNumber } from '../report/asked'
import { ROLL_UPS, type Item, type ItemKind } from '../report/edition'

const isChosen = (kind: ItemKind) => kind === 'oneOf' || kind === 'severalOf'

/** What belongs to some kinds only, and goes when an item becomes of another kind. */
function ownParts(kind: ItemKind): (keyof Item)[] {
  if (isTypedNumber(kind)) return ['least', 'most']
  if (isChosen(kind)) return ['choices', 'list']
  if (kind === 'text') return ['longest', 'pattern']
  return kind === 'computed' ? ['expression'] : []
}
const ALL_PARTS: (keyof Item)[] = ['least', 'most', 'choices', 'list', 'longest', 'pattern', 'expression']

/**
 * Makes an item of another kind, in place: it keeps its words and conditions, and gets what a new one of this
 * kind has.
 */
export function becomeKind(item: Item, kind: ItemKind): void {
  const kept = new Set(ownParts(kind))
  for (const part of ALL_PARTS) if (!kept.has(part)) delete item[part]
  item.kind = kind
  if (!ROLL_UPS[kind].includes(item.rollUp)) item.rollUp = ROLL_UPS[kind][0]!
  item.range = isTypedNumber(kind)
    ? (item.range ?? { method: 'modifiedZ', limit: 3.5, raises: 'explain' })
    : null
  if (!isTypedNumber(kind)) item.axes = []
  item.unitOfMeasure = isTypedNumber(kind) || kind === 'computed' ? item.unitOfMeasure || 'count' : ''
  if (isChosen(kind)) item.choices ??= []
  if (kind === 'computed') {
    item.expression ??= ''
    delete item.required
    delete item.acceptedIf
  }
}

/** A new item with its name in one language. @example newItem('births', 'en', 'Births', 'wholeNumber') */
export function newItem(code: string, language: string, name: string, kind: ItemKind): Item {
  const item: Item = {
    code,
    name: { [language]: name },
    definition: {},
    kind,
    unitOfMeasure: '',
    rollUp: ROLL_UPS[kind][0]!,
    range: null,
    axes: [],
  }
  becomeKind(item, kind)
  return item
}
