import { printPartialDate } from '../calendar/partial-date'
import { civilDate } from '../calendar/conversions'
import { nameParts, type Subject } from './subject'

/** Invented name parts: syllables put together, so that no real person is meant. */
const BEGIN = [
  'Ka',
  'Mo',
  'Ti',
  'Sel',
  'Bra',
  'Du',
  'Fen',
  'Gal',
  'Hes',
  'Ira',
  'Jo',
  'Lu',
  'Nor',
  'Pel',
  'Ru',
  'Ves',
]
const MIDDLE = ['ri', 'lan', 'do', 'me', 'sto', 'vi', 'ben', 'tha', 'qua', 'ne']
const END = ['na', 'rek', 'lo', 'mis', 'tan', 'wen', 'dra', 'sol', 'by', 'ric']

/** What can go wrong when one person is written down twice. */
const SLIPS = [
  'swapped letters',
  'letter left out',
  'letter doubled',
  'other vowel',
  'names in other order',
  'day and month swapped',
  'year off by one',
  'only the month known',
  'only an age',
  'moved away',
  'third name',
  'same telephone',
] as const
export type PlantedSlip = (typeof SLIPS)[number]

export interface PlantedPair {
  one: string
  other: string
  slip: PlantedSlip
}

const VOWELS = 'aeiou'

/** Spoils one thing about a person. */
function spoil(text: string, slip: PlantedSlip, pick: (least: number, most: number) => number): string {
  const at = pick(1, text.length - 2)
  switch (slip) {
    case 'swapped letters':
      return text.slice(0, at) + text[at + 1] + text[at] + text.slice(at + 2)
    case 'letter left out':
      return text.slice(0, at) + text.slice(at + 1)
    case 'letter doubled':
      return text.slice(0, at) + text[at] + text.slice(at)
    case 'other vowel':
      return text.replace(/[aeiou]/, vowel => VOWELS[(VOWELS.indexOf(vowel) + 1) % 5]!)
    default:
      return text
  }
}

/**
 * Made-up cases of which some are one person written down twice, with one slip each.
 * @param pick random whole numbers from one to another, both in.
 */
export function plantedSubjects(
  count: number,
  pairs: number,
  pick: (least: number, most: number) => number,
): { subjects: Subject[]; planted: PlantedPair[] } {
  const of = <T>(list: readonly T[]) => list[pick(0, list.length - 1)]!
  const word = () => of(BEGIN) + of(MIDDLE) + of(END)
  const person = (id: string) => {
    const date = civilDate(pick(14_600, 20_700))
    return {
      id,
      first: word(),
      last: word(),
      date,
      sex: of(['f', 'm']),
      place: `zone_${pick(1, 19)}`,
      phone: `0${pick(1_000_000, 9_999_999)}`,
    }
  }
  const subject = ({ id, first, last, date, sex, place, phone }: ReturnType<typeof person>): Subject => ({
    id,
    name: nameParts(`${first} ${last}`),
    born: { precision: 'day', ...date },
    birthYear: date.year,
    birthYearWithin: 1,
    sex,
    place,
    identifiers: [phone],
  })

  const subjects: Subject[] = []
  const planted: PlantedPair[] = []
  for (let at = 0; at < count - pairs; at++) {
    const one = person(`c${at}`)
    subjects.push(subject(one))
    if (at >= pairs) continue
    const slip = SLIPS[at % SLIPS.length]!
    const { year, month, day } = one.date
    const twice = {
      ...one,
      id: `c${at}_again`,
      phone: slip === 'same telephone' ? one.phone : `0${pick(1_000_000, 9_999_999)}`,
      first: spoil(one.first, slip, pick),
    }
    if (slip === 'moved away') twice.place = `${one.place}_far`
    if (slip === 'third name') twice.last += ` ${word()}`
    if (slip === 'day and month swapped' && day <= 12) twice.date = { year, month: day, day: month }
    if (slip === 'year off by one')
      twice.date = { year: year + 1, month, day: month === 2 ? Math.min(day, 28) : day }
    const again = subject(twice)
    if (slip === 'only the month known') again.born = { precision: 'month', year, month }
    if (slip === 'only an age') again.born = null
    subjects.push(again)
    planted.push({ one: one.id, other: again.id, slip })
  }
  return { subjects, planted }
}

/** For messages of tests. */
export const describeSubject = ({ name, born }: Subject): string =>
  `${name.join(' ')} ${born ? printPartialDate(born) : '?'}`
