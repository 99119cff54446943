import { oneOf, phone, word, SCRIPTS, type Person, type Draw } from './people'

type Script = (typeof SCRIPTS)[number]
type Change = (person: Person, random: Draw, script: Script) => Partial<Person>

/** Somewhere inside a text, so that its first letter stays: people rarely get that one wrong. */
const inside = (text: string, random: Draw) => random(1, Math.max(1, text.length - 2))
const swapped = (text: string, random: Draw) => {
  const at = inside(text, random)
  return text.slice(0, at) + (text[at + 1] ?? '') + text[at]! + text.slice(at + 2)
}
const without = (text: string, random: Draw) => {
  const at = inside(text, random)
  return text.slice(0, at) + text.slice(at + 1)
}
const doubled = (text: string, random: Draw) => {
  const at = inside(text, random)
  return text.slice(0, at) + text[at]! + text.slice(at)
}
const otherLetter = (text: string, random: Draw, script: Script) => {
  const at = inside(text, random)
  return text.slice(0, at) + oneOf([...script.middle.join('')], random) + text.slice(at + 1)
}
const parts = (day: string) => day.split('-') as [string, string, string]
const two = (number: number) => String(number).padStart(2, '0')

/** What can go wrong when one person is written down twice; each has another telephone unless it says so. */
export const SLIPS: Readonly<Record<string, Change>> = {
  'written the same way': () => ({}),
  'two letters swapped': ({ given }, random) => ({ given: swapped(given, random) }),
  'a letter left out': ({ given }, random) => ({ given: without(given, random) }),
  'a letter doubled': ({ family }, random) => ({ family: doubled(family, random) }),
  'another letter': ({ given }, random, script) => ({ given: otherLetter(given, random, script) }),
  'a slip in both names': ({ given, family }, random) => ({
    given: swapped(given, random),
    family: without(family, random),
  }),
  'names in the other order': ({ given, family }) => ({ given: family, family: given }),
  'accents left out': ({ given, family }) => ({
    given: given.normalize('NFD').replace(/\p{M}/gu, ''),
    family: family.normalize('NFD').replace(/\p{M}/gu, ''),
  }),
  'capital letters only': ({ given, family }) => ({
    given: given.toUpperCase(),
    family: family.toUpperCase(),
  }),
  'a third name': ({ family }, random, script) => ({ family: `${family} ${word(script, random)}` }),
  'only the given name': () => ({ family: '' }),
  'a name by marriage': (_, random, script) => ({ family: word(script, random) }),
  'day and month swapped': ({ born }) => {
    const [year, month, day] = parts(born!)
    return Number(day) <= 12 ? { born: `${year}-${day}-${month}` } : {}
  },
  'a year off': ({ born }) => {
    const [year, month, day] = parts(born!)
    return { born: `${Number(year) - 1}-${month}-${day}` }
  },
  'some days off': ({ born }) => {
    const [year, month, day] = parts(born!)
    return { born: `${year}-${month}-${two(Number(day) > 14 ? Number(day) - 9 : Number(day) + 9)}` }
  },
  'only the month known': ({ born }) => ({ born: born!.slice(0, 7) }),
  'only an age': ({ born }) => ({ born: null, age: 2026 - Number(born!.slice(0, 4)) }),
  'an age one year off': ({ born }) => ({ born: null, age: 2027 - Number(born!.slice(0, 4)) }),
  'the sex wrong': ({ sex }) => ({ sex: sex === 'f' ? 'm' : 'f' }),
  'moved away': ({ place }) => ({ place: `${place}_far` }),
  'a slip, and moved away': ({ given, place }, random) => ({
    given: swapped(given, random),
    place: `${place}_far`,
  }),
}

/** People who are like others, and are not the same: to ask about them costs an officer a minute. */
export const TRAPS: Readonly<Record<string, Change>> = {
  'a twin of the same sex': (_, random, script) => ({ given: word(script, random) }),
  'a twin of the other sex': ({ sex }, random, script) => ({
    given: word(script, random),
    sex: sex === 'f' ? 'm' : 'f',
  }),
  'a brother or sister two years older': ({ born }, random, script) => {
    const [year, month, day] = parts(born!)
    return { given: word(script, random), born: `${Number(year) - 2}-${day}-${month}` }
  },
  'a namesake of another year and place': ({ born, place }) => {
    const [year, ...rest] = parts(born!)
    return { born: [Number(year) - 5, ...rest].join('-'), place: `${place}_far` }
  },
  'a parent of the same name': ({ born, age }) => ({
    born: null,
    age: (age ?? 0) + 2052 - Number(born!.slice(0, 4)),
  }),
}

/** The same person, or somebody like them, written down once more. */
export const again = (person: Person, change: Change, random: Draw, script: Script): Person => ({
  ...person,
  phone: phone(random),
  ...change(person, random, script),
})
