import { v7 as uuid } from 'uuid'
import type { Services } from '#core/contract/drafts'
import { BLANK } from '#core/report/cell'
import type { Cell } from '#core/report/edition'
import type { Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { lockFacilities } from '../database/locks'
import { conflict } from '../refusal'
import { mustHoldUnit } from '../units/must-hold-unit'
import { placeKey, type UnitInRound } from './place'
import { writeCells } from './write-cells'
import type { Round } from '../rounds/round'

/** A unit in a round, with what says which services count. */
interface ServicePlace extends UnitInRound {
  round: Pick<Round, 'id' | 'dataset' | 'lastDay'>
}

/** The items that the units of some places do not offer at the end of the round's period. */
export async function notOfferedItems(
  sql: Pick<Sql, 'query'>,
  places: readonly ServicePlace[],
): Promise<(place: UnitInRound) => ReadonlySet<string>> {
  const rows = await sql.query<{ key: string; items: string[] }>(
    `SELECT concat_ws(' ', w.round, w.unit) AS key, array_agg(n.item) AS items
     FROM unnest($1::text[], $2::text[], $3::date[], $4::text[]) AS w (round, dataset, last_day, unit)
       JOIN not_offered n ON n.dataset = w.dataset AND n.unit = w.unit AND n.from_day <= w.last_day AND (n.to_day IS NULL OR n.to_day > w.last_day)
     GROUP BY w.round, w.unit`,
    [
      places.map(({ round }) => round.id),
      places.map(({ round }) => round.dataset),
      places.map(({ round }) => round.lastDay),
      places.map(({ unit }) => unit.code),
    ],
  )
  const byPlace = new Map(rows.map(({ key, items }) => [key, new Set(items)]))
  return place => byPlace.get(placeKey(place)) ?? new Set()
}

/** How many of some units do not offer each item at the end of a round's period. */
export async function notOfferedCounts(
  sql: Pick<Sql, 'query'>,
  round: Round,
  units: readonly string[],
): Promise<Map<string, number>> {
  const rows = await sql.query<{ item: string; count: number }>(
    'SELECT item, count(DISTINCT unit)::int AS count FROM not_offered WHERE dataset = $1 AND unit = ANY($2::text[]) AND from_day <= $3 AND (to_day IS NULL OR to_day > $3) GROUP BY item',
    [round.dataset, units, round.lastDay],
  )
  return new Map(rows.map(({ item, count }) => [item, count]))
}

/**
 * Answers what is not offered in reports that begin. Version 1 of each such cell is this answer; anybody may
 * change it.
 */
export async function answerNotOffered(
  sql: Sql,
  begun: readonly (ServicePlace & { report: { id: number }; ready: { cells: readonly Cell[] } })[],
  person: string,
): Promise<void> {
  const itemsOf = await notOfferedItems(sql, begun)
  await writeCells(
    sql,
    begun.flatMap(place => {
      const items = itemsOf(place)
      return place.ready.cells
        .filter(({ item }) => items.has(item.code))
        .map(({ key: cell }) => ({
          id: uuid(),
          report: place.report.id,
          cell,
          old: BLANK,
          content: { kind: 'notOffered' as const },
          version: 1,
        }))
    }),
    { at: nowText(), person, origin: 'services' },
  )
}

/** What a unit does not offer of a dataset, now and from later days on. @throws Refusal 404, 403. */
export async function servicesOf(access: Access, dataset: string, unit: string): Promise<Services> {
  const sql = await database()
  await mustHoldUnit(sql, access, unit)
  return {
    notOffered: await sql.query<Services['notOffered'][number]>(
      'SELECT item, from_day AS "from", to_day AS "to" FROM not_offered WHERE dataset = $1 AND unit = $2 ORDER BY from_day, item',
      [dataset, unit],
    ),
  }
}

/**
 * Says what a unit does not offer from a day on; what it said of earlier days stays. Reports that have begun
 * keep their answers.
 * @throws Refusal 409 `services-later` when something is said from a later day already.
 */
export async function saveServices(
  access: Access,
  dataset: string,
  unit: string,
  { from, items }: { from: string; items: string[] },
): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    await mustHoldUnit(tx, access, unit)
    await lockFacilities(tx, [unit])
    const open = await tx.query<{ item: string; from: string }>(
      'SELECT item, from_day AS "from" FROM not_offered WHERE dataset = $1 AND unit = $2 AND (to_day IS NULL OR to_day > $3)',
      [dataset, unit, from],
    )
    if (open.some(row => row.from > from))
      throw conflict('services-later', 'Something is said from a later day on already.')
    const wanted = new Set(items)
    for (const row of open) {
      if (wanted.delete(row.item)) continue
      if (row.from === from)
        await tx.query(
          'DELETE FROM not_offered WHERE dataset = $1 AND unit = $2 AND item = $3 AND from_day = $4',
          [dataset, unit, row.item, from],
        )
      else
        await tx.query(
          'UPDATE not_offered SET to_day = $4 WHERE dataset = $1 AND unit = $2 AND item = $3 AND from_day = $5',
          [dataset, unit, row.item, from, row.from],
        )
    }
    for (const item of wanted)
      await tx.query('INSERT INTO not_offered (unit, dataset, item, from_day) VALUES ($1, $2, $3, $4)', [
        unit,
        dataset,
        item,
        from,
      ])
  })
}
