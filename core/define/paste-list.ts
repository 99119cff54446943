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

/**
 * “1.”, “1.2.3”, “a)”, “(iv)”, “3 -”, “•”: what lists put before their lines. A bare number may be part of
 * the name.
 */
const NUMBERING =
  /^\s*(?:[•·▪◦‣*–—-]\s+|\d{1,3}(?:\.\d{1,3})+[.)]?\s+|\(?(?:\d{1,3}|[a-z]|[ivx]{1,5})[.)]\s*|\d{1,3}\s+[-–—]\s+)/i

/** What names are compared by: letters and digits without case and accents. */
const bare = (text: string): string =>
  fold(text)
    .replace(/[^a-z0-9]+/g, ' ')
    .trim()

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
      const likeness =
        other === wanted ? 1 : digitsOf(other) === digitsOf(wanted) ? jaroWinkler(other, wanted) : 0
      if (likeness >= NEARLY_THE_SAME && likeness > (best?.likeness ?? 0)) best = { item, likeness }
    }
  }
  return best && { item: best.item, sure: best.likeness === 1 }
}

/** “Dose 1” and “Dose 2” are near in letters and never the same. */
const digitsOf = (text: string): string => text.replace(/\D+/g, ' ').trim()

/** A cell that holds nothing but the number of its line. */
const ONLY_NUMBER = /^\(?\d{1,3}(?:\.\d{1,3})*[.)]?$/

interface RawLine {
  line: number
  label: string
  isNumbered: boolean
  isFirstCell: boolean
}

/** The first cell with words of a line, without its number; null for a line without words. */
function readLine(raw: string, at: number): RawLine | null {
  const cells = raw.split('\t').map(one => one.trim())
  const place = cells.findIndex(one => /\p{L}/u.test(one))
  const cell = cells[place] ?? ''
  const label = cell
    .replace(NUMBERING, '')
    .replace(/^"(.*)"$/, '$1')
    .replace(/\s+/g, ' ')
    .trim()
  if (!/\p{L}/u.test(label)) return null
  return {
    line: at + 1,
    label,
    isFirstCell: place === 0,
    isNumbered: NUMBERING.test(cell) || cells.slice(0, place).some(one => ONLY_NUMBER.test(one)),
  }
}

/** What is written as a heading is: with a colon behind it, or in capitals. */
const looksLikeHeading = (label: string): boolean =>
  /:$/.test(label) || (label.length > 3 && label === label.toUpperCase() && /\p{Lu}{3}/u.test(label))

/**
 * Reads a pasted list: the first cell with words of each line, with the items that are there already. Among
 * numbered lines one without a number, before two that have one, is a heading of those that follow.
 */
export function readPastedList(text: string, known: readonly Item[]): PastedLine[] {
  const lines = text
    .split(/\r\n|\r|\n/)
    .map(readLine)
    .filter(line => line !== null)
  const numbered = lines.filter(({ isNumbered }) => isNumbered).length
  const isNumberedList = numbered > 2 && numbered > lines.length / 2
  return lines.map(({ line, label, isNumbered, isFirstCell }, at) => {
    const heading =
      looksLikeHeading(label) ||
      (isNumberedList &&
        isFirstCell &&
        !isNumbered &&
        lines.slice(at + 1, at + 3).filter(next => next.isNumbered).length === 2)
    const name = label.replace(/\s*:$/, '')
    return { line, label: name, heading, match: heading ? null : likeItem(name, known) }
  })
}
