import { isAttributeName } from '../exchange/adx'
import type { DocumentFormat } from '../exchange/value-document'
import { axesOf, itemsOf, type Edition, type Words } from '../report/edition'

/**
 * What has a code of its own at the receiver: the dataset, its items, the axes by which they are split and the
 * bands of these (`age.u5`), and the facilities.
 */
export const CODE_KINDS = ['dataset', 'item', 'axis', 'band', 'unit'] as const
export type CodeKind = (typeof CODE_KINDS)[number]

/** Kinds that can be left out on purpose. Without an axis or a dataset the rest would mean something else. */
export const CAN_BE_LEFT_OUT: ReadonlySet<CodeKind> = new Set(['item', 'band', 'unit'])

/** A code of ours that goes out under another. */
export interface NeededCode {
  kind: CodeKind
  ours: string
  name: Words
}

/** Their code for each of ours, by kind; null for what is left out on purpose. */
export type CodeBook = Readonly<Record<CodeKind, ReadonlyMap<string, string | null>>>

/** Why a code does not do: there is none, another of the same kind has it, the format cannot write it. */
export type CodeLack = 'missing' | 'twice' | 'form'

export const bandCode = (axis: string, band: string): string => `${axis}.${band}`

/**
 * The codes that the reports of an edition need, without those of units.
 *
 * @example neededCodes(edition).map(({ ours }) => ours) // ['monthly_summary', 'opd_visits', 'age', 'age.u5', …]
 */
export function neededCodes(edition: Edition): NeededCode[] {
  const axes = [
    ...new Map(
      itemsOf(edition).flatMap(item => axesOf(edition, item).map(axis => [axis.code, axis] as const)),
    ).values(),
  ]
  return [
    { kind: 'dataset', ours: edition.dataset, name: edition.name },
    ...itemsOf(edition).map(({ code, name }): NeededCode => ({ kind: 'item', ours: code, name })),
    ...axes.map(({ code, name }): NeededCode => ({ kind: 'axis', ours: code, name })),
    ...axes.flatMap(axis =>
      axis.bands.map((band): NeededCode => ({
        kind: 'band',
        ours: bandCode(axis.code, band.code),
        name: band.name,
      })),
    ),
  ]
}

/** Bands of two axes may have the same code: they stand in another place. */
const sameFor = (kind: CodeKind, ours: string): string => (kind === 'band' ? ours.split('.')[0]! : '')

/**
 * What is wrong with the codes of a receiver, by kind and our code.
 *
 * @param needed codes that are not among them are not looked at
 * @returns a map from `${kind} ${ours}`; empty when everything can be sent
 */
export function codeLacks(
  needed: readonly Pick<NeededCode, 'kind' | 'ours'>[],
  codes: CodeBook,
  format: DocumentFormat,
): Map<string, CodeLack> {
  const lacks = new Map<string, CodeLack>()
  const first = new Map<string, string>()
  for (const { kind, ours } of needed) {
    const key = `${kind} ${ours}`
    const theirs = codes[kind].get(ours)
    if (theirs === undefined) lacks.set(key, 'missing')
    if (theirs === undefined || theirs === null) continue
    const place = `${kind} ${sameFor(kind, ours)} ${theirs}`
    const before = first.get(place)
    if (before !== undefined) {
      lacks.set(key, 'twice')
      lacks.set(before, 'twice')
    }
    first.set(place, before ?? key)
    if (format === 'adx' && kind === 'axis' && !isAttributeName(theirs)) lacks.set(key, 'form')
  }
  return lacks
}

/** The codes turned round: ours for each of theirs, by kind; bands by their axis and code. */
export function turned(codes: CodeBook): Record<CodeKind, Map<string, string>> {
  const of = (kind: CodeKind) =>
    new Map([...codes[kind]].flatMap(([ours, theirs]) => (theirs === null ? [] : [[theirs, ours] as const])))
  const bands = new Map(
    [...codes.band].flatMap(([ours, theirs]) => {
      const axis = codes.axis.get(ours.split('.')[0]!)
      return theirs === null || !axis ? [] : [[bandCode(axis, theirs), ours] as const]
    }),
  )
  return { dataset: of('dataset'), item: of('item'), axis: of('axis'), band: bands, unit: of('unit') }
}
