import { now } from '../clock'
import type { Sql } from '../database'
import { conflict } from '../refusal'
import type { Round } from './round'

/**
 * For queries: when a round `r` closes to a unit. The officer can let a facility in after closing, until a
 * day; the newest of her decisions counts.
 */
export const closesTo = (round: string, unit: string): string =>
  `greatest(${round}.closes_at, (SELECT l.until FROM let_in l WHERE l.round = ${round}.id AND l.unit = ${unit} ORDER BY l.seq DESC LIMIT 1))`

/** Rounds as they are for one facility each: with the closing time that holds for it. In their order. */
export async function roundsFor(
  sql: Pick<Sql, 'query'>,
  places: readonly { round: Round; unit: string }[],
): Promise<Round[]> {
  const rows = await sql.query<{ closesAt: string }>(
    `SELECT ${closesTo('r', 'w.unit')} AS "closesAt"
     FROM unnest($1::text[], $2::text[]) WITH ORDINALITY AS w (round, unit, place) JOIN round r ON r.id = w.round ORDER BY w.place`,
    [places.map(({ round }) => round.id), places.map(({ unit }) => unit)],
  )
  return places.map(({ round }, at) => ({ ...round, closesAt: rows[at]!.closesAt }))
}

/** The same of one. */
export const roundFor = async (sql: Pick<Sql, 'query'>, round: Round, unit: string): Promise<Round> =>
  (await roundsFor(sql, [{ round, unit }]))[0]!

/** Is a round closed to facilities? */
export const isClosed = ({ closesAt }: Pick<Round, 'closesAt'>): boolean => now() >= Date.parse(closesAt)

/**
 * Facilities change and send reports only while a round is open to them.
 * @param round as {@link roundFor} gives it.
 * @throws Refusal 409 `round-not-open`, `round-closed`
 */
export function mustBeOpen(round: Round): void {
  if (now() < Date.parse(round.opensAt)) throw conflict('round-not-open', 'This round has not opened yet.')
  if (isClosed(round))
    throw conflict('round-closed', 'This round is closed to facilities. Ask the district office.')
}
