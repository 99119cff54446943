import type { ChangedSince } from '#core/contract/district-reports'
import { sameContent, type CellValue } from '#core/report/cell'
import { nameCell, numberKind } from '#core/report/edition'
import { editionOf } from '../datasets/editions'
import type { Sql } from '../database'
import type { Round } from '../rounds/round'
import type { Computed } from './compute'

type Change = ChangedSince

const isSame = (one: CellValue | null, other: CellValue | null) =>
  one === null || other === null
    ? one === other
    : sameContent({ kind: 'value', value: one }, { kind: 'value', value: other })
type Unit = { code: string; name: string }

/** Cell by cell, what differs between two states of the facilities' numbers. */
async function cellChanges(
  sql: Pick<Sql, 'query'>,
  round: Round,
  before: Computed,
  now: Computed,
): Promise<Change[]> {
  const { cells } = await editionOf(sql, round.dataset, round.edition)
  const units = new Set([...Object.keys(before.cells), ...Object.keys(now.cells)])
  const names = await sql.query<Unit>(
    'SELECT code, name FROM unit_latest WHERE code = ANY($1::text[]) ORDER BY name',
    [[...units]],
  )
  return names.flatMap(unit =>
    cells.flatMap((cell): Change[] => {
      const [signed, then] = [
        before.cells[unit.code]?.[cell.key] ?? null,
        now.cells[unit.code]?.[cell.key] ?? null,
      ]
      return isSame(signed, then)
        ? []
        : [
            {
              kind: 'cell',
              unit,
              cell: cell.key,
              name: { en: nameCell(cell, 'en'), fr: nameCell(cell, 'fr') },
              signed,
              now: then,
              ...(numberKind(cell.item) === null && { item: cell.item }),
            },
          ]
    }),
  )
}

/** Reports that came in, or went back, also those without a single number. */
function reportChanges(before: Computed, now: Computed): Change[] {
  const wasMissing = new Set(before.figures.missing.map(({ code }) => code))
  const isMissing = new Set(now.figures.missing.map(({ code }) => code))
  const came = before.figures.missing.filter(({ code }) => !isMissing.has(code))
  const went = now.figures.missing.filter(({ code }) => !wasMissing.has(code))
  return [
    ...came.map((unit): Change => ({ kind: 'report', unit, signed: 'missing', now: 'received' })),
    ...went.map((unit): Change => ({ kind: 'report', unit, signed: 'received', now: 'missing' })),
  ]
}

type Doubt = Computed['figures']['discrepancies'][number]
const standOf = (doubt: Doubt | undefined): string | null => (doubt ? (doubt.outcome ?? doubt.state) : null)

/** Doubts that are new, settled otherwise, explained in other words, or open again. */
function doubtChanges(before: Computed, now: Computed): Change[] {
  const was = new Map(before.figures.discrepancies.map(doubt => [doubt.id, doubt]))
  const is = new Map(now.figures.discrepancies.map(doubt => [doubt.id, doubt]))
  return [...new Map([...was, ...is]).values()].flatMap((doubt): Change[] => {
    const [signed, then] = [was.get(doubt.id), is.get(doubt.id)]
    const isSame = standOf(signed) === standOf(then) && signed?.text === then?.text
    return isSame
      ? []
      : [
          {
            kind: 'discrepancy',
            id: doubt.id,
            unit: doubt.unit,
            title: doubt.title,
            signed: standOf(signed),
            now: standOf(then),
          },
        ]
  })
}

/** How many reports are in, and on time: of how many. */
function reportingChanges(before: Computed, now: Computed): Change[] {
  const names = ['expected', 'received', 'onTime'] as const
  const [signed, then] = [before.figures.reporting, now.figures.reporting]
  if (names.every(name => signed[name] === then[name])) return []
  const counts = ({ expected, received, onTime }: typeof signed) => ({ expected, received, onTime })
  return [{ kind: 'completeness', signed: counts(signed), now: counts(then) }]
}

/**
 * Everything that differs between what was signed (or shown) and what is: numbers, reports, doubts with what
 * was said of them, and completeness.
 */
export async function changesSince(
  sql: Pick<Sql, 'query'>,
  round: Round,
  before: Computed,
  now: Computed,
): Promise<Change[]> {
  return [
    ...(await cellChanges(sql, round, before, now)),
    ...reportChanges(before, now),
    ...doubtChanges(before, now),
    ...reportingChanges(before, now),
  ]
}
