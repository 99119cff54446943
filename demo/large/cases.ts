import type { Sql } from '../../server/database'
import { PERSON_ID } from '../fill/places-and-people'
import { GIVEN as DEMO_GIVEN } from '../people'
import type { Place } from '../places'

const GIVEN = [
  ...DEMO_GIVEN,
  'Adrel',
  'Bessa',
  'Calio',
  'Denna',
  'Elvar',
  'Fiora',
  'Garrin',
  'Hesper',
  'Ilva',
  'Jarrel',
  'Kerin',
  'Lisbe',
  'Morwin',
  'Nessa',
  'Oriel',
  'Quenna',
  'Rosel',
  'Sorrin',
  'Tamsa',
  'Ambra',
]
const BEGINS = [
  'Os',
  'Va',
  'Mar',
  'Qui',
  'San',
  'Dri',
  'Lor',
  'Fen',
  'Tar',
  'Wi',
  'Bel',
  'Cro',
  'Hal',
  'Jun',
  'Kes',
  'Nor',
  'Pel',
  'Rud',
  'Sil',
  'Tol',
]
const ENDS = [
  'row',
  'ley',
  'wick',
  'ner',
  'mont',
  'dale',
  'by',
  'stead',
  'vane',
  'ford',
  'gate',
  'lund',
  'mere',
  'nock',
  'pike',
  'rand',
  'shaw',
  'thorn',
  'ville',
  'worth',
]

/** How many newborns are registered, and how many in one statement. */
export const CASES = 100_000
export const AT_ONCE = 5_000
/**
 * So many are folded in one transaction: those that they are compared with are read once for all of them. On a server
 * fewer, because each block of similar cases is a lock there, and it has room for some 6,400.
 */
export const FOLDED_AT_ONCE = { embedded: 25_000, server: 1_000 }

/** Forty first names and four hundred family names: six people share one. */
const nameOf = (number: number) => {
  // Spread, so that neighbours in number are no neighbours in name.
  const spread = (number * 7919) % (GIVEN.length * BEGINS.length * ENDS.length)
  const family = Math.floor(spread / GIVEN.length)
  return `${GIVEN[spread % GIVEN.length]} ${BEGINS[family % BEGINS.length]}${ENDS[Math.floor(family / BEGINS.length)]}`
}

/** Some newborns with their registration and the visit of day 3, spread over the facilities and two years. */
export async function insertCases(
  sql: Sql,
  facilities: readonly Place[],
  from: number,
  count: number,
): Promise<void> {
  const numbers = Array.from({ length: count }, (_, at) => from + at)
  await sql.query(
    `INSERT INTO case_record (id, register, unit)
     SELECT md5('case ' || number)::uuid, 'newborns', unit FROM unnest($1::int[], $2::text[]) AS g (number, unit)`,
    [numbers, numbers.map(number => facilities[number % facilities.length]!.code)],
  )
  const entry = (form: string, days: number, answers: string) => `
    SELECT md5('${form} ' || number)::uuid, md5('case ' || number)::uuid, 1, '${form}', ${answers}, born + ${days},
      born + ${days + 1} + time '10:00', born + ${days + 1} + time '11:00', ${PERSON_ID("'clerk.' || unit")}
    FROM (SELECT number, unit, name, date '2024-11-01' + (number * 13 % 730) AS born
      FROM unnest($1::int[], $2::text[], $3::text[]) AS g (number, unit, name)) AS given`
  await sql.query(
    `INSERT INTO case_entry (id, case_id, edition, form, answers, happened_on, made_at, received_at, person)
     ${entry(
       'birth',
       0,
       `jsonb_build_object('mother_name', jsonb_build_object('kind', 'value', 'value', name), 'baby_sex', jsonb_build_object('kind', 'value', 'value', CASE WHEN number % 2 = 0 THEN 'f' ELSE 'm' END),
          'baby_born_on', jsonb_build_object('kind', 'value', 'value', to_char(born, 'YYYY-MM-DD')), 'birth_weight', jsonb_build_object('kind', 'value', 'value', 2200 + number % 1900))`,
     )}
     UNION ALL
     ${entry(
       'day_3',
       3,
       `jsonb_build_object('day_3_on', jsonb_build_object('kind', 'value', 'value', to_char(born + 3, 'YYYY-MM-DD')), 'feeds_well', jsonb_build_object('kind', 'value', 'value', true))`,
     )}`,
    [numbers, numbers.map(number => facilities[number % facilities.length]!.code), numbers.map(nameOf)],
  )
}
