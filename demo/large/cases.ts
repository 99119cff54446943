import { fold } from '#core/form/code'
import type { Sql } from '../../server/database'
import { PERSON_ID } from '../fill/places-and-people'
import type { Place } from '../places'

const GIVEN = ['Ione', 'Renna', 'Loren', 'Mireth', 'Tavi', 'Orsel', 'Brenn', 'Sila', 'Corvin', 'Jossa']
const FAMILY = ['Osk', 'Vask', 'Marrow', 'Quill', 'Sandley', 'Drift', 'Lorne', 'Fenner', 'Tarrow', 'Wick']

/** How many newborns are registered, and how many in one statement. */
export const CASES = 100_000
export const AT_ONCE = 5_000

const nameOf = (number: number) =>
  `${GIVEN[number % 10]} ${FAMILY[Math.floor(number / 10) % 10]}${number > 100 ? ` ${Math.floor(number / 100)}` : ''}`

/** Some newborns with their registration and the visit of day 3, spread over the facilities and two years. */
export async function insertCases(
  sql: Sql,
  facilities: readonly Place[],
  from: number,
  count: number,
): Promise<void> {
  const numbers = Array.from({ length: count }, (_, at) => from + at)
  await sql.query(
    `INSERT INTO case_record (id, register, unit, search_text, last_on)
     SELECT md5('case ' || number)::uuid, 'newborns', unit, text, date '2024-11-01' + (number * 13 % 730) + 3 FROM unnest($1::int[], $2::text[], $3::text[]) AS g (number, unit, text)`,
    [
      numbers,
      numbers.map(number => facilities[number % facilities.length]!.code),
      numbers.map(number => fold(nameOf(number))),
    ],
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
