import { printDay } from '#core/calendar/day'
import { entryOfKept, foldCases, type CaseFile, type KeptEntry } from '#core/cases/fold'
import { followUp } from '#core/cases/follow-up'
import type { CaseRegister } from '#core/cases/register'
import type { Answers } from '#core/form/answer'
import { fold } from '#core/form/code'
import { groupBy } from '#core/group-by'
import type { Sql } from '../database'

/** The columns of a case that are folded from its entries. */
export interface KnownOfCase {
  id: string
  known: Answers
  entries: number
  /** The day of the last event. */
  lastOn: string | null
  receivedAt: string | null
  nextVisit: string | null
  resultAwaited: boolean
  /** What a search looks in. */
  searchText: string
}

/** A case as it was folded anew. */
export interface FoldedCase {
  register: string
  /** The case that it belongs to. */
  parent: string | null
  /** Its personal answers were replaced: it is compared with nobody. */
  isForgotten: boolean
  file: CaseFile
  kept: KnownOfCase
}

/** An entry, with what its case says of how it is folded. */
export interface EntryRow extends KeptEntry {
  register: string
  parent: string | null
  isClosed: boolean
  isForgotten: boolean
}

/** For queries: what is kept of a case `c`, as {@link KnownOfCase}. */
export const KNOWN = `c.id, c.known, c.entries, c.last_on AS "lastOn", c.received_at AS "receivedAt",
  c.next_visit AS "nextVisit", c.result_awaited AS "resultAwaited", c.search_text AS "searchText"`

/**
 * For queries: the cases that are part of some cases `$1`, each with the one that it is part of, itself
 * included.
 */
export const MEMBERS = `WITH RECURSIVE member (root, id) AS (
  SELECT id, id FROM unnest($1::uuid[]) AS given (id)
  UNION SELECT m.root, c.id FROM case_record c JOIN member m ON c.merged_into = m.id)`

/** The cases that are part of one, itself included. */
export async function membersOf(sql: Pick<Sql, 'query'>, root: string): Promise<string[]> {
  const rows = await sql.query<{ id: string }>(`${MEMBERS} SELECT id FROM member`, [[root]])
  return rows.map(({ id }) => id)
}

/** For queries: those of some cases `$1` that there are, each with all that are one with it, itself included. */
export const KIN = `WITH RECURSIVE kin (start, id) AS (
  SELECT id, id FROM case_record WHERE id = ANY($1::uuid[])
  UNION SELECT kin.start, x.id FROM kin CROSS JOIN LATERAL (
    SELECT merged_into AS id FROM case_record WHERE id = kin.id AND merged_into IS NOT NULL
    UNION ALL SELECT id FROM case_record WHERE merged_into = kin.id) x)`

/**
 * For queries: some cases `$1` and those that they are part of, up to the end of their merges: where `next` is
 * null.
 */
export const UP = `WITH RECURSIVE up (start, id, next) AS (
  SELECT id, id, merged_into FROM case_record WHERE id = ANY($1::uuid[])
  UNION SELECT up.start, c.id, c.merged_into FROM case_record c JOIN up ON up.next = c.id)`

/** The cases that some cases are part of now: themselves, or the ones at the end of their merges. */
export async function rootsOf(sql: Pick<Sql, 'query'>, ids: readonly string[]): Promise<string[]> {
  const rows = await sql.query<{ id: string }>(`${UP} SELECT DISTINCT id FROM up WHERE next IS NULL`, [ids])
  return rows.map(({ id }) => id)
}

/**
 * Folds some cases anew from their entries and those of the cases that were merged into them. @returns nothing
 * of those that have no entry
 */
export async function foldKnown(
  sql: Pick<Sql, 'query'>,
  ids: readonly string[],
  registers: ReadonlyMap<string, CaseRegister>,
): Promise<FoldedCase[]> {
  const rows = await sql.query<EntryRow>(
    `${MEMBERS} SELECT e.id, m.root AS "case", c.register, c.parent, c.closed_on IS NOT NULL AS "isClosed",
       c.forgotten_at IS NOT NULL AS "isForgotten", e.form, e.answers,
       e.happened_on AS "happenedOn", e.received_at AS "receivedAt", e.corrects
     FROM member m JOIN case_entry e ON e.case_id = m.id JOIN case_record c ON c.id = m.root ORDER BY e.seq`,
    [ids],
  )
  return foldRows(rows, registers)
}

/** Folds cases from their entries, given in the order in which they were received. */
export function foldRows(
  rows: readonly EntryRow[],
  registers: ReadonlyMap<string, CaseRegister>,
): FoldedCase[] {
  const rowsOf = groupBy(rows, row => row.case)
  return foldCases(rows.map(entryOfKept)).map(file => {
    const own = rowsOf.get(file.case)!
    const { register: code, parent, isClosed, isForgotten } = own[0]!
    const register = registers.get(code)
    return {
      register: code,
      parent,
      isForgotten,
      file,
      kept: {
        id: file.case,
        known: Object.fromEntries([...file.values].map(([key, { content }]) => [key, content])),
        entries: file.entries.length,
        lastOn: latest(own.map(({ happenedOn }) => happenedOn)),
        receivedAt: latest(own.map(({ receivedAt }) => receivedAt)),
        ...needsOf(register, file, isClosed),
        searchText: register ? searchTextOf(register, own) : '',
      },
    }
  })
}

const latest = (texts: readonly string[]): string | null => [...texts].sort().at(-1) ?? null

/** How much a search keeps of a case. */
const LONGEST_SEARCH_TEXT = 2000

/**
 * What a search looks in: the answers of the line, the name and the identifiers, folded, of every entry. A
 * name that was corrected is still found by what it was.
 */
function searchTextOf({ line, identity }: CaseRegister, rows: readonly Pick<EntryRow, 'answers'>[]): string {
  const codes = new Set([...line, ...identity.identifiers, ...(identity.name ? [identity.name] : [])])
  const texts = rows.flatMap(({ answers }) =>
    [...codes].flatMap(code => {
      const content = answers[code]
      return content?.kind === 'value' && typeof content.value === 'string' ? [fold(content.value)] : []
    }),
  )
  return [...new Set(texts)].join(' ').slice(0, LONGEST_SEARCH_TEXT)
}

function needsOf(
  register: CaseRegister | undefined,
  file: CaseFile,
  isClosed: boolean,
): Pick<KnownOfCase, 'nextVisit' | 'resultAwaited'> {
  if (!register) return { nextVisit: null, resultAwaited: false }
  const { nextVisit, resultAwaited } = followUp(register, file, isClosed)
  return { nextVisit: nextVisit === null ? null : printDay(nextVisit), resultAwaited }
}
