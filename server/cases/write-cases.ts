import type { CaseRegister } from '#core/cases/register'
import type { EntryMade } from '#core/contract/desk'
import { fold } from '#core/form/code'
import { groupBy } from '#core/group-by'
import type { Sql } from '../database'

/** How much a search keeps of a case. */
const LONGEST_SEARCH_TEXT = 2000

/** What a search looks in: the answers of the line, the name and the identifiers, folded. */
export function searchTextOf({ line, identity }: CaseRegister, answers: EntryMade['answers']): string {
  const codes = new Set([...line, ...identity.identifiers, ...(identity.name ? [identity.name] : [])])
  return [...codes]
    .flatMap(code => {
      const content = answers[code]
      return content?.kind === 'value' && typeof content.value === 'string' ? [fold(content.value)] : []
    })
    .join(' ')
}

/** An entry that is accepted, with the day of its event and what a search is to find its case by. */
export interface EntrySaid {
  entry: EntryMade
  happenedOn: string
  searchText: string
}

/** What some entries say about their case. */
interface CaseSaid {
  id: string
  /** The day of the latest event. */
  lastOn: string
  /** What a search is to find it by, from now on. */
  searchText: string
}

/** What accepted entries say about each of their cases. */
export function saidOf(rows: readonly EntrySaid[]): CaseSaid[] {
  return [...groupBy(rows, ({ entry }) => entry.case)].map(([id, own]) => ({
    id,
    lastOn: own
      .map(row => row.happenedOn)
      .sort()
      .at(-1)!,
    searchText: own
      .map(row => row.searchText)
      .filter(Boolean)
      .join(' '),
  }))
}

/** A case that an entry begins. */
export interface NewCase {
  register: string
  unit: string
  parent: string | null
}

/**
 * Writes new cases with what their entries say, and adds to the others what these say. The only writer of
 * `last_on` and `search_text`.
 */
export async function writeCases(
  sql: Sql,
  begun: ReadonlyMap<string, NewCase>,
  said: readonly CaseSaid[],
): Promise<void> {
  const fresh = said.filter(({ id }) => begun.has(id))
  if (fresh.length)
    await sql.query(
      `INSERT INTO case_record (id, register, unit, parent, last_on, search_text)
       SELECT id, register, unit, parent, last_on, left(text, ${LONGEST_SEARCH_TEXT})
       FROM unnest($1::uuid[], $2::text[], $3::text[], $4::uuid[], $5::date[], $6::text[]) AS given (id, register, unit, parent, last_on, text)`,
      [
        fresh.map(({ id }) => id),
        fresh.map(({ id }) => begun.get(id)!.register),
        fresh.map(({ id }) => begun.get(id)!.unit),
        fresh.map(({ id }) => begun.get(id)!.parent),
        fresh.map(({ lastOn }) => lastOn),
        fresh.map(({ searchText }) => searchText),
      ],
    )
  const known = said.filter(({ id }) => !begun.has(id))
  if (known.length)
    // A name that was corrected is still found by what it was.
    await sql.query(
      `UPDATE case_record c SET last_on = greatest(c.last_on, g.last_on),
         search_text = left(concat_ws(' ', nullif(c.search_text, ''), nullif(g.text, '')), ${LONGEST_SEARCH_TEXT})
       FROM unnest($1::uuid[], $2::date[], $3::text[]) AS g (id, last_on, text) WHERE c.id = g.id`,
      [
        known.map(({ id }) => id),
        known.map(({ lastOn }) => lastOn),
        known.map(({ searchText }) => searchText),
      ],
    )
}
