import type { Sql } from '../database'

/** A case that an entry begins. */
export interface NewCase {
  register: string
  unit: string
  parent: string | null
}

/** Writes new cases. What is known of them follows once their entries are there (`known.ts`). */
export async function writeCases(sql: Sql, begun: ReadonlyMap<string, NewCase>): Promise<void> {
  const cases = [...begun]
  if (!cases.length) return
  await sql.query(
    `INSERT INTO case_record (id, register, unit, parent)
     SELECT * FROM unnest($1::uuid[], $2::text[], $3::text[], $4::uuid[])`,
    [
      cases.map(([id]) => id),
      cases.map(([, { register }]) => register),
      cases.map(([, { unit }]) => unit),
      cases.map(([, { parent }]) => parent),
    ],
  )
}
