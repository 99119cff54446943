import Papa from 'papaparse'
import type { CodesTaken } from '../contract/sending'
import { fold } from '../form/code'
import { groupBy } from '../group-by'
import type { NeededCode } from './codes'

/** Tabs come from spreadsheets; names have commas more often than semicolons. */
const separatorOf = (text: string): string => ['\t', ';'].find(one => text.includes(one)) ?? ','

/** A code that a pasted line gives. */
export interface PastedCode extends Pick<NeededCode, 'kind' | 'ours'> {
  theirs: string
}

/**
 * Reads pasted lines, as they come from a spreadsheet: our code or the name of the thing first, then their code.
 * Lines with only one of both say nothing.
 *
 * @param longest letters of a code
 * @returns the codes, each of ours once: the last line holds; and the lines that are passed over, with why
 * @example readPastedCodes('elm\t1001\nOak Clinic;1002', needed, 200).codes.length // 2
 */
export function readPastedCodes(
  text: string,
  needed: readonly NeededCode[],
  longest: number,
): { codes: PastedCode[]; passedOver: CodesTaken['passedOver'] } {
  const byName = groupBy(
    needed.flatMap(one =>
      [...new Set([one.ours, ...Object.values(one.name)].map(name => fold(name)))].map(name => ({
        name,
        one,
      })),
    ),
    ({ name }) => name,
  )
  const codes = new Map<string, PastedCode>()
  const passedOver: CodesTaken['passedOver'] = []
  const { data } = Papa.parse<string[]>(text, { skipEmptyLines: false, delimiter: separatorOf(text) })
  for (const [at, values] of data.entries()) {
    const [ours = '', theirs = ''] = values.map(value => value.trim())
    const pass = (why: CodesTaken['passedOver'][number]['why']) =>
      passedOver.push({ line: at + 1, text: values.join(' ').trim().slice(0, 100), why })
    if (!ours && !theirs) continue
    const found = byName.get(fold(ours)) ?? []
    // A code is meant before a name that reads the same.
    const [exact] = found.filter(({ one }) => one.ours === ours)
    const meant = exact ?? (found.length === 1 ? found[0] : undefined)
    if (!theirs) pass('short')
    else if (theirs.length > longest) pass('long')
    else if (!found.length) pass('unknown')
    else if (!meant) pass('ambiguous')
    else
      codes.set(`${meant.one.kind} ${meant.one.ours}`, { kind: meant.one.kind, ours: meant.one.ours, theirs })
  }
  return { codes: [...codes.values()], passedOver }
}
