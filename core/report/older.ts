import type { Edition, Item } from './edition'

/** An item as it was written when all items were numbers. */
type NumberItem = Omit<Item, 'kind'> & { kind?: Item['kind']; number?: 'count' | 'decimal' }

/** An item that an earlier version wrote, in today's shape. */
export function completeItem({ number, ...item }: NumberItem): Item {
  return { ...item, kind: item.kind ?? (number === 'decimal' ? 'decimal' : 'wholeNumber') }
}

/**
 * An edition that an earlier version wrote, as devices have it on their disk and files of definitions hold
 * it.
 */
export const completeEdition = (edition: Edition): Edition => ({
  ...edition,
  sections: edition.sections.map(section => ({ ...section, items: section.items.map(completeItem) })),
})
