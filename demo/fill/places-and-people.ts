import type { DemoPerson } from '../people'
import type { Place } from '../places'
import type { Sql } from '../../server/database'
import { personSearchText } from '../../server/people/search-text'
import { writeLatest } from '../../server/units/latest'
import { outlines } from '../outlines'
import { userKey } from '../../server/people/sign-in'

/** Units with their spans; one that moves has two. */
export async function insertPlaces(sql: Sql, places: readonly Place[], firstDay: string): Promise<void> {
  const paths = new Map<string, string[]>()
  for (const place of places) {
    paths.set(place.code, [...(place.parent ? paths.get(place.parent)! : []), place.code])
    await sql.query('INSERT INTO unit (code, latitude, longitude) VALUES ($1, $2, $3)', [
      place.code,
      place.latitude,
      place.longitude,
    ])
  }
  for (const place of places) {
    const span = (from: string, to: string | null, parent: string | null) =>
      sql.query(
        'INSERT INTO unit_span (unit, from_day, to_day, parent, name, level, kind, path) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)',
        [
          place.code,
          from,
          to,
          parent,
          place.name,
          place.level,
          place.kind,
          [...(parent ? paths.get(parent)! : []), place.code],
        ],
      )
    const from = place.from ?? firstDay
    if (place.moves) {
      await span(from, place.moves.from, place.parent)
      await span(place.moves.from, place.to, place.moves.to)
    } else await span(from, place.to, place.parent)
  }
  await writeLatest(
    sql,
    places.map(({ code }) => code),
  )
}

/** The outlines of the districts on the map. */
export async function insertOutlines(sql: Sql): Promise<void> {
  for (const { properties, geometry } of outlines().features)
    await sql.query(`INSERT INTO unit_outline (unit, geometry, at) VALUES ($1, $2, '2024-04-15T10:00:00Z')`, [
      properties.unit,
      geometry,
    ])
}

/** The identifier of a demo person, the same in each run: made from the user name. */
export const PERSON_ID = (parameter: string) => `md5('person ' || ${parameter})::uuid`

export async function insertPeople(sql: Sql, people: readonly DemoPerson[], hash: string): Promise<void> {
  for (const person of people) {
    await sql.query(
      `INSERT INTO person (id, user_name, user_key, display_name, role, branch, password_hash, search_text) VALUES (${PERSON_ID('$1')}, $1, $2, $3, $4, $5, $6, $7)`,
      [
        person.userName,
        userKey(person.userName),
        person.displayName,
        person.role,
        person.branch,
        hash,
        personSearchText(person),
      ],
    )
  }
}
