import { parseDay, printDay } from '#core/calendar/day'
import type { CaseAct, CaseOutcome } from '#core/cases/life'
import { groupBy } from '#core/group-by'
import { must } from '#core/result'
import { applyCaseAct } from '../../server/cases/life'
import type { Sql } from '../../server/database'
import { LAST_DAY, type DemoEntry } from '../cases/entry'
import { identifierOf } from '../cases/identifier'
import { plantedPairs } from '../cases/planted'
import type { Place } from '../places'
import { EVERYTHING } from './work'

/** A case is closed so many days after its last event. */
const CLOSED_AFTER = 30
const CLOSED = 40
const TRANSFERRED = 6

interface DemoAct {
  case: string
  /** The device's person, who did it. */
  person: string
  device: string
  day: number
  act: CaseAct
}

/** Most are followed to their end; of every twentieth nobody knows where it is. */
const outcomeOf = (at: number): CaseOutcome =>
  at % 20 === 7 ? 'lost' : at % 20 === 13 ? 'left' : 'completed'

/**
 * What facilities did with measles cases: most that were closed, and some that the hospital of their district
 * took over a few days after the rash.
 */
function actsOf(entries: readonly DemoEntry[], places: readonly Place[]): DemoAct[] {
  // What was planted there stays as it was planted.
  const pairs = new Set(plantedPairs(entries).flatMap(({ one, other }) => [one, other]))
  const parentOf = new Map(places.map(({ code, parent }) => [code, parent]))
  const districtOf = (unit: string) => parentOf.get(parentOf.get(unit) ?? '')
  const hospitals = new Map(
    places.filter(({ kind }) => kind === 'hospital').map(({ code }) => [districtOf(code), code]),
  )
  const cases = [...groupBy(entries, ({ entry }) => entry.case).values()].filter(
    ([first]) => first!.entry.register === 'measles_cases' && !pairs.has(first!.entry.case),
  )
  const dayOf = ({ entry }: DemoEntry) => must(parseDay(entry.madeAt.slice(0, 10)))
  const closed = cases
    .filter(own => own.some(({ entry }) => entry.answers.classification?.kind === 'value'))
    .map(own => ({ own, day: Math.max(...own.map(dayOf)) + CLOSED_AFTER }))
    .filter(({ day }) => day <= LAST_DAY)
    .slice(0, CLOSED)
    .map(({ own, day }, at): DemoAct => ({
      case: own[0]!.entry.case,
      person: own[0]!.device.person,
      device: own[0]!.device.id,
      day,
      act: { act: 'close', on: printDay(day), outcome: outcomeOf(at) },
    }))
  const transferred = cases
    .filter(([first]) => {
      const { unit, answers } = first!.entry
      const hospital = hospitals.get(districtOf(unit))
      const { admitted } = answers
      return hospital && hospital !== unit && admitted?.kind === 'value' && admitted.value === true
    })
    .slice(-TRANSFERRED)
    .map(([first]): DemoAct => {
      const day = Math.min(dayOf(first!) + 1, LAST_DAY)
      return {
        case: first!.entry.case,
        person: first!.device.person,
        device: first!.device.id,
        day,
        act: {
          act: 'move',
          to: hospitals.get(districtOf(first!.entry.unit))!,
          since: printDay(day),
          text: 'Admitted to the hospital.',
        },
      }
    })
  return [...closed, ...transferred]
}

/** Closes and transfers some cases, by the product's own use-case, on the days on which that was done. */
export async function actOnCases(
  sql: Sql,
  entries: readonly DemoEntry[],
  places: readonly Place[],
): Promise<void> {
  for (const { case: of, person, device, day, act } of actsOf(entries, places)) {
    await applyCaseAct(sql, { ...EVERYTHING, id: identifierOf(`person ${person}`) }, of, act, device)
    await sql.query(
      `UPDATE case_event SET at = $2::date + time '15:00' WHERE seq = (SELECT max(seq) FROM case_event WHERE case_id = $1)`,
      [of, printDay(day)],
    )
  }
}
