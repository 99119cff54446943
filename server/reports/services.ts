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
import { writeCells } from './write-cells'
import type { Round } from '../rounds/round'

/** The cells that a unit does not offer at the end of a round's period. */
export async function notOfferedCells(
  sql: Pick<Sql, 'query'>,
  round: Round,
  unit: string,
  cells: readonly Cell[],
): Promise<string[]> {
  const rows = await sql.query<{ item: string }>(
    'SELECT item FROM not_offered WHERE dataset = $1 AND unit = $2 AND from_day <= $3 AND (to_day IS NULL OR to_day > $3)',
    [round.dataset, unit, round.lastDay],
  )
  const items = new Set(rows.map(({ item }) => item))
  return items.size ? cells.filter(({ item }) => items.has(item.code)).map(({ key }) => key) : []
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
 * Answers what is not offered in a report that begins. Version 1 of each such cell is this answer; anybody
 * may change it.
 */
export async function answerNotOffered(
  sql: Sql,
  round: Round,
  unit: string,
  report: number,
  cells: readonly Cell[],
  person: string,
): Promise<void> {
  const notOffered = await notOfferedCells(sql, round, unit, cells)
  await writeCells(
    sql,
    report,
    notOffered.map(cell => ({ id: uuid(), cell, old: BLANK, content: { kind: 'notOffered' }, version: 1 })),
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
