import { civilDate } from '#core/calendar/conversions'
import { firstDay } from '#core/calendar/period'
import { parsePeriod } from '#core/calendar/period-text'
import { parseDay, printDay } from '#core/calendar/day'
import { numberOf } from '#core/report/cell'
import { must } from '#core/result'
import type { Place } from '../places'
import type { Random } from '../random'
import { MEASLES_CONTACT, MEASLES_HOME_VISIT } from '../registers/measles'
import { REGISTER_EDITIONS, SECOND_EDITION_DAY } from '../registers/editions'
import type { DemoReport } from '../report'
import { WEEKLY_DISEASES } from '../weekly/edition'
import type { DemoDevice } from './devices'
import { LAST_DAY, write, type DemoEntry, type Writing } from './entry'
import { familyName, givenName, oneOf, telephone, village } from './names'

const SECOND_FROM = must(parseDay(SECOND_EDITION_DAY))

/** How often each sign is seen with the rash, in the order of the form. */
const SIGNS = [
  ['fever', 0.92],
  ['cough', 0.6],
  ['red_eyes', 0.5],
  ['runny_nose', 0.55],
] as const

/** One suspected case, before anything of it is written down. */
export interface MeaslesCase {
  /** What it is called: its number in the register. */
  number: string
  device: DemoDevice
  rashOn: number
  under5: boolean
}

/**
 * The suspected cases that the weekly reports of facilities with a device count: each was registered too, so
 * that register and report tell the same.
 */
export function measlesCases(
  reports: readonly DemoReport[],
  devicesOf: ReadonlyMap<string, readonly DemoDevice[]>,
  districtOf: (unit: string) => string,
  random: Random,
): MeaslesCase[] {
  const last = new Map<string, number>()
  return reports
    .filter(({ round, unit }) => round.startsWith(`${WEEKLY_DISEASES.dataset}~`) && devicesOf.has(unit))
    .flatMap(({ round, unit, cells }) => {
      const week = firstDay(must(parsePeriod(round.split('~')[1]!)))
      return ['u5', 'a5plus'].flatMap(age =>
        Array.from({ length: numberOf(cells[`measles.${age}`]) ?? 0 }, () => {
          const rashOn = Math.min(week + random.whole(0, 6), LAST_DAY)
          const year = String(civilDate(rashOn).year).slice(2)
          const series = `${districtOf(unit).slice(0, 3).toUpperCase()}-${year}`
          const number = (last.get(series) ?? 1000) + 1
          last.set(series, number)
          return {
            number: `${series}-${number}`,
            device: oneOf(devicesOf.get(unit)!, random),
            rashOn,
            under5: age === 'u5',
          }
        }),
      )
    })
}

/** How old somebody is, as well as they know it: by the day, by the year, or only as told. */
function bornAnswers({ rashOn, under5 }: MeaslesCase, random: Random): Writing['answers'] {
  const days = under5 ? random.whole(200, 1_780) : random.whole(1_850, 9_000)
  const born = printDay(rashOn - days)
  const share = random.share()
  if (share < 0.7) return { born_on: born }
  if (share < 0.82) return { born_on: born.slice(0, 7) }
  return { told_age: Math.floor(days / 365.25) }
}

function registrationAnswers(one: MeaslesCase, zone: Place, notifiedOn: number, random: Random) {
  const vaccinated = oneOf(['yes', 'yes', 'no', 'no', 'no', 'unknown'], random)
  const signs = SIGNS.filter(([, share]) => random.share() < share).map(([sign]) => sign)
  const fever = signs.includes('fever')
  return {
    case_number: one.number,
    full_name: `${givenName(random)} ${familyName(random)}`,
    sex: oneOf(['f', 'm'], random),
    ...bornAnswers(one, random),
    district: zone.parent!,
    zone: zone.code,
    village: random.share() < 0.7 ? village(random) : undefined,
    phone: random.share() < 0.5 ? telephone(random) : undefined,
    rash_on: printDay(one.rashOn),
    notified_on: printDay(notifiedOn),
    signs: signs.length ? signs : ['red_eyes'],
    fever_on: fever ? printDay(one.rashOn - random.whole(1, 4)) : undefined,
    admitted: random.share() < 0.15,
    outcome: random.share() < 0.8 ? 'alive' : undefined,
    vaccinated,
    doses: vaccinated === 'yes' ? random.whole(1, 2) : undefined,
    contact_known: oneOf(['yes', 'no', 'no', 'unknown'], random),
  }
}

/** The last telephones to hear of a new edition go on in the old one. */
const editionOn = (day: number, { state }: DemoDevice) =>
  day < SECOND_FROM || state === 'oldEdition' ? 1 : 2

const formOf = (edition: number, at: number) =>
  REGISTER_EDITIONS.find(one => one.number === edition && one.definition.code === 'measles_cases')!.definition
    .forms[at]!.form

/** Everything that was written down about one case, in the order of the events. */
export function measlesEntries(one: MeaslesCase, zone: Place, random: Random): DemoEntry[] {
  const { device, number } = one
  const entries: DemoEntry[] = []
  const add = (writing: Omit<Writing, 'device' | 'register' | 'edition'> & Partial<Writing>) => {
    if (writing.day > LAST_DAY) return null
    const made = write(
      {
        register: 'measles_cases',
        edition: editionOn(writing.day, device),
        device,
        after: entries[0],
        ...writing,
      },
      random,
    )
    if (made) entries.push(made)
    return made
  }
  const notifiedOn = Math.min(one.rashOn + random.whole(0, 3), LAST_DAY)
  const edition = editionOn(notifiedOn, device)
  const answers = {
    ...registrationAnswers(one, zone, notifiedOn, random),
    travelled: edition === 2 ? random.share() < 0.08 : undefined,
  }
  const travelled = answers.travelled ? { travelled_to: village(random) } : {}
  const registration = {
    case: number,
    form: formOf(edition, 0),
    edition,
    answers: { ...answers, ...travelled },
  }
  if (!add({ ...registration, day: notifiedOn })) return []
  // The mother brought the card, and the name is written otherwise there.
  if (random.share() < 0.05)
    add({
      ...registration,
      day: notifiedOn + random.whole(2, 12),
      as: 'corrected',
      corrects: '',
      answers: {
        ...registration.answers,
        full_name: `${answers.full_name.split(' ')[0]} ${familyName(random)}`,
      },
    })
  const classification = addSpecimen(one, notifiedOn, random, add)
  if (classification === 'confirmed' || random.share() < 0.1) addVisit(one, notifiedOn, random, add)
  const contacts = classification === 'discarded' ? 0 : random.whole(0, classification ? 3 : 2)
  for (let contact = 1; contact <= contacts; contact++)
    add({
      register: 'measles_contacts',
      edition: 1,
      form: MEASLES_CONTACT,
      case: `${number} contact ${contact}`,
      parent: number,
      day: notifiedOn + 1,
      answers: {
        contact_name: `${givenName(random)} ${familyName(random)}`,
        contact_sex: oneOf(['f', 'm'], random),
        contact_age: random.whole(0, 40),
        met_on: printDay(Math.min(one.rashOn + random.whole(-4, 3), LAST_DAY)),
        contact_ill: random.share() < 0.07,
      },
    })
  return entries
}

type Add = (writing: Omit<Writing, 'device' | 'register' | 'edition'>) => DemoEntry | null

/** A specimen was taken of most. Of the newest the result is still awaited. */
function addSpecimen(one: MeaslesCase, notifiedOn: number, random: Random, add: Add): string | undefined {
  if (random.share() > 0.65) return undefined
  const takenOn = notifiedOn + random.whole(0, 3)
  const isBack = takenOn + random.whole(9, 20) <= LAST_DAY
  const result = oneOf(['positive', 'negative', 'negative', 'unclear'], random)
  const classification = { positive: 'confirmed', negative: 'discarded', unclear: 'probable' }[result]
  const made = add({
    case: one.number,
    form: formOf(2, 1),
    day: isBack ? takenOn + random.whole(9, 12) : takenOn,
    answers: {
      specimen_number: `L-${one.number.slice(-4)}`,
      taken_on: printDay(takenOn),
      sent_on: printDay(takenOn + random.whole(0, 2)),
      result: isBack ? result : undefined,
      classification: isBack ? classification : undefined,
    },
  })
  return made && isBack ? classification : undefined
}

/** A visit to the household of a confirmed case, with the children there. */
function addVisit(one: MeaslesCase, notifiedOn: number, random: Random, add: Add): void {
  const day = notifiedOn + random.whole(2, 9)
  const children = Array.from({ length: random.whole(0, 3) }, (_, at) => `c${at + 1}`)
  add({
    case: one.number,
    form: MEASLES_HOME_VISIT,
    day,
    answers: {
      home_visited_on: printDay(day),
      household_size: children.length + random.whole(2, 6),
      ...(children.length && { children }),
      ...Object.fromEntries(
        children.flatMap(child => {
          // Nobody just at nine months, from which on the form asks for the vaccination.
          const days = random.share() < 0.15 ? random.whole(60, 260) : random.whole(320, 4_000)
          const at = `children/${child}`
          return [
            [`${at}/child_name`, givenName(random)],
            [`${at}/child_born_on`, printDay(day - days)],
            ...(days > 300 ? [[`${at}/child_vaccinated`, random.share() < 0.7]] : []),
          ]
        }),
      ),
    },
  })
}
