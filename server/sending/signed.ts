import { parsePeriod } from '#core/calendar/period-text'
import type { Period } from '#core/calendar/period'
import type { CellValue } from '#core/report/cell'
import type { Cell, Edition } from '#core/report/edition'
import { must } from '#core/result'
import {
  CODE_KINDS,
  codeLacks,
  neededCodes,
  type CodeBook,
  type CodeKind,
  type CodeLack,
} from '#core/sending/codes'
import type { DocumentFormat } from '#core/exchange/value-document'
import type { Sql } from '../database'
import { editionOf } from '../datasets/editions'
import { isSound, signaturesOf, type Snapshot } from '../district-reports/signatures'
import type { Round } from '../rounds/round'

/** A signed district report as far as it is sent on: the numbers of each facility. */
export interface Signed {
  amendment: number
  /** Is what is stored still what was signed? */
  isSound: boolean
  edition: Edition
  cellByKey: ReadonlyMap<string, Cell>
  period: Period
  cells: Record<string, Record<string, CellValue>>
  /** The names of the facilities, by code. */
  names: Map<string, string>
}

/** The codes of a recipient as they are kept with what was sent: pairs of ours and theirs. */
export type StoredCodes = Record<CodeKind, [ours: string, theirs: string | null][]>

export const codesFrom = (stored: StoredCodes): CodeBook =>
  Object.fromEntries(CODE_KINDS.map(kind => [kind, new Map(stored[kind])])) as unknown as CodeBook

/**
 * What a district signed of a round; undefined where it has not.
 * @param amendment the last one, if nothing is said
 */
export async function signedReport(
  sql: Pick<Sql, 'query'>,
  round: Round,
  unit: string,
  amendment?: number,
): Promise<Signed | undefined> {
  const last = (await signaturesOf(sql, round.id, unit)).findLast(
    one => amendment === undefined || one.amendment === amendment,
  )
  if (!last) return undefined
  const ready = await editionOf(sql, round.dataset, round.edition)
  const { cells } = JSON.parse(last.snapshot) as Snapshot
  const names = await sql.query<{ code: string; name: string }>(
    'SELECT code, name FROM unit_latest WHERE code = ANY($1::text[])',
    [Object.keys(cells)],
  )
  return {
    amendment: last.amendment,
    isSound: isSound(last),
    edition: ready.edition,
    cellByKey: ready.cellByKey,
    period: must(parsePeriod(round.period)),
    cells,
    names: new Map(names.map(({ code, name }) => [code, name])),
  }
}

/** What is wrong with the codes that a signed report needs. */
export const lacksOf = (
  { edition, cells }: Signed,
  codes: CodeBook,
  format: DocumentFormat,
): Map<string, CodeLack> =>
  codeLacks(
    [...neededCodes(edition), ...Object.keys(cells).map(ours => ({ kind: 'unit' as const, ours }))],
    codes,
    format,
  )
