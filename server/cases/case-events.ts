import { v7 as uuid } from 'uuid'
import type { CaseOutcome } from '#core/cases/life'
import type { CaseLifeEvent } from '#core/contract/case-life'
import { nowText } from '../clock'
import type { Sql } from '../database'
import { KIN } from './fold-known'

/** What happened to a case besides its entries. */
export interface NewCaseEvent {
  case: string
  act: CaseLifeEvent['act']
  from?: string
  to?: string
  day?: string | null
  outcome?: CaseOutcome
  text?: string
  /** The entry that opened it again. */
  entry?: string
}

/** Who did it, and on which device. */
export interface CaseActor {
  person: string
  device: string | null
}

/**
 * Notes what happened to some cases, for their files and for the devices of all that see them. The caller is
 * alone with those facilities.
 * @param alsoTold units that saw them before, and do not any more
 */
export async function noteCaseEvents(
  sql: Sql,
  { person, device }: CaseActor,
  events: readonly NewCaseEvent[],
  alsoTold: readonly string[] = [],
): Promise<void> {
  for (const event of events)
    await sql.query(
      `INSERT INTO case_event (id, case_id, at, person, device, act, units, from_unit, to_unit, day, outcome, text, entry)
       SELECT $1, c.id, $3, $4, $5, $6,
         ARRAY(SELECT DISTINCT unit FROM unnest(c.unit || c.shared_with || $13::text[]) AS told (unit) ORDER BY unit),
         $7, $8, $9, $10, $11, $12
       FROM case_record c WHERE c.id = $2`,
      [
        uuid(),
        event.case,
        nowText(),
        person,
        device,
        event.act,
        event.from ?? null,
        event.to ?? null,
        event.day ?? null,
        event.outcome ?? null,
        event.text?.trim() ?? '',
        event.entry ?? null,
        alsoTold,
      ],
    )
}

/**
 * Writes which other facilities see some cases: those that had one of them, and those of all cases that are one
 * with them. The only writer of that column.
 * @returns all units that saw or see them
 */
export async function shareCases(sql: Sql, ids: readonly string[]): Promise<string[]> {
  const rows = await sql.query<{ units: string[] }>(
    `${KIN},
     had AS (
       SELECT kin.start, c.unit FROM kin JOIN case_record c ON c.id = kin.id
       UNION SELECT kin.start, move ->> 'from' FROM kin JOIN case_record c ON c.id = kin.id, jsonb_array_elements(c.moves) AS move),
     seen AS (SELECT DISTINCT kin.id, had.unit FROM kin JOIN had ON had.start = kin.start),
     before AS (SELECT c.id, c.unit || c.shared_with AS units FROM case_record c JOIN kin ON kin.id = c.id)
     UPDATE case_record c
     SET shared_with = ARRAY(SELECT s.unit FROM seen s WHERE s.id = c.id AND s.unit <> c.unit ORDER BY s.unit)
     FROM before WHERE c.id = before.id
     RETURNING before.units || c.unit || c.shared_with AS units`,
    [ids],
  )
  return [...new Set(rows.flatMap(({ units }) => units))]
}

/**
 * For queries: one of some units sees a case `c`: it has it, or shares it ({@link shareCases}).
 * @param units the parameter with their codes
 */
export const seenBy = (units: string): string =>
  `(c.unit = ANY(${units}::text[]) OR (c.shared_with <> '{}' AND c.shared_with && ${units}::text[]))`
