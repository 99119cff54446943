import { fold } from '../form/code'
import { jaroWinkler } from '../matching/jaro-winkler'
import type { Item } from '../report/edition'

/** One line that somebody copied from a spreadsheet or a document. */
export interface PastedLine {
  /** Counted from 1, empty lines too. */
  line: number
  /** Without numbering, bullets and further cells. */
  label: string
  /** Looks like a heading of what follows. */
  heading: boolean
  /** The item that it is, or may be. */
  match: { item: Item; sure: boolean } | null
}

/** A name this like another (Jaro-Winkler) may be the same thing written in another way. */
export const NEARLY_THE_SAME = 0.93

/** “1.”, “1.2.3”, “a)”, “(iv)”, “3 -”, “•”: what lists put before their lines. A bare number may be part of the name. */
const NUMBERING = /^\s*(?:[•·▪◦‣*–—-]\s+|\d{1,3}(?:\.\d{1,3})+[.)]?\s+|\(?(?:\d{1,3}|[a-z]|[ivx]{1,5})[.)]\s*|\d{1,3}\s+[-–—]\s+)/i

/** What names are compared by: letters and digits without case and accents. */
const bare = (text: string): string => fold(text).replace(/[^a-z0-9]+/g, ' ').trim()

/**
 * The item whose name, in any language, is a label, or is nearly one.
 * @param except the code of the item that is being named.
 */
export function likeItem(label: string, known: readonly Item[], except?: string): PastedLine['match'] {
  const wanted = bare(label)
  if (!wanted) return null
  let best: { item: Item; likeness: number } | null = null
  for (const item of known) {
    if (item.code === except) continue
    for (const name of [...Object.values(item.name), item.code]) {
      const other = bare(name)
      const likeness = other === wanted ? 1 : digitsOf(other) === digitsOf(wanted) ? jaroWinkler(other, wanted) : 0
      if (likeness >= NEARLY_THE_SAME && likeness > (best?.likeness ?? 0)) best = { item, likeness }
    }
  }
  return best && { item: best.item, sure: best.likeness === 1 }
}

/** “Dose 1” and “Dose 2” are near in letters and never the same. */
const digitsOf = (text: string): string => text.replace(/\D+/g, ' ').trim()

/** Reads a pasted list: the first cell with words of each line, with the items that are there already. */
export function readPastedList(text: string, known: readonly Item[]): PastedLine[] {
  return text.split(/\r\n|\r|\n/).flatMap((raw, at) => {
    const cell = raw.split('\t').map(one => one.trim()).find(one => /\p{L}/u.test(one)) ?? ''
    const label = cell.replace(NUMBERING, '').replace(/^"(.*)"$/, '$1').replace(/\s+/g, ' ').trim()
    if (!/\p{L}/u.test(label)) return []
    const heading = /:$/.test(label) || (label.length > 3 && label === label.toUpperCase() && /\p{Lu}{3}/u.test(label))
    const name = label.replace(/\s*:$/, '')
    return [{ line: at + 1, label: name, heading, match: heading ? null : likeItem(name, known) }]
  })
}
