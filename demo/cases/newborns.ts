import { parseDay, printDay } from '#core/calendar/day'
import { must } from '#core/result'
import type { Random } from '../random'
import { NEWBORNS } from '../registers/newborn'
import { HOSPITALS, type DemoDevice } from './devices'
import { LAST_DAY, write, type DemoEntry, type Writing } from './entry'
import { familyName, givenName, telephone, village } from './names'

const CHILDREN = 160
const FIRST_BIRTH = must(parseDay('2026-05-04'))
/** Where newborns are followed up: the maternity homes and hospitals that have a device. */
const PLACES = new Set([
  ...HOSPITALS,
  'rowan_court',
  'orchard_rise',
  'larch_house',
  'primrose',
  'shell_haven',
])
const form = (at: number) => NEWBORNS.forms[at]!.form

/** Mothers and children of the last six months, with the visits that took place. */
export function newbornEntries(devices: readonly DemoDevice[], random: Random): DemoEntry[] {
  const places = devices.filter(({ unit, name }) => PLACES.has(unit) && name === 'Phone 1')
  return Array.from({ length: CHILDREN }, (_, at) =>
    entriesOf(`newborn ${at + 1}`, places[at % places.length]!, random),
  ).flat()
}

function entriesOf(name: string, device: DemoDevice, random: Random): DemoEntry[] {
  const bornOn = random.whole(FIRST_BIRTH, LAST_DAY)
  // Weights at birth scatter around 3,150 grams (common practice): one child in fifteen is below 2,500.
  const weight = Math.round(Math.min(4_900, Math.max(1_200, 3_150 + 430 * random.normal())))
  const entries: DemoEntry[] = []
  const add = (of: number, day: number, answers: Writing['answers']) => {
    const made = write(
      {
        register: 'newborns',
        edition: 1,
        form: form(of),
        case: name,
        device,
        day,
        after: entries[0],
        answers,
      },
      random,
    )
    if (made) entries.push(made)
  }
  add(0, bornOn, {
    mother_name: `${givenName(random)} ${familyName(random)}`,
    mother_age: random.whole(16, 43),
    household_place: village(random),
    mother_phone: random.share() < 0.6 ? telephone(random) : undefined,
    baby_name: random.share() < 0.4 ? givenName(random) : undefined,
    baby_sex: random.share() < 0.49 ? 'f' : 'm',
    baby_born_on: printDay(bornOn),
    baby_born_at: `${String(random.whole(0, 23)).padStart(2, '0')}:${String(random.whole(0, 59)).padStart(2, '0')}`,
    birth_weight: weight,
  })
  if (!entries.length) return []
  // Fewer come at each visit; a child loses a little in the first days, and gains about 30 grams a day then.
  for (const [of, after, share, gained] of [
    [1, 3, 0.85, -120],
    [2, 7, 0.75, 20],
    [3, 42, 0.65, 1_050],
  ] as const) {
    const day = bornOn + after + random.whole(0, 2)
    const isDone = random.share() < share && day <= LAST_DAY
    const answers = {
      [`day_${after}_on`]: printDay(day),
      [`day_${after}_weight`]: weight + gained + random.whole(-60, 60),
      ...(of === 1 && { feeds_well: random.share() < 0.94, cord_clean: random.share() < 0.96 }),
      ...(of === 2 && { jaundice: random.share() < 0.06 }),
      ...(of === 3 && {
        first_doses: random.share() < 0.9,
        mother_well: random.share() < 0.95 ? 'yes' : 'no',
      }),
    }
    if (isDone) add(of, day, answers)
  }
  return entries
}
