/** Invented syllables of one script, put together to names, so that no real person is meant. */
interface Script {
  name: string
  begin: readonly string[]
  middle: readonly string[]
  end: readonly string[]
}

export const SCRIPTS: readonly Script[] = [
  {
    name: 'Latin',
    begin: [
      'Ka',
      'Mo',
      'Ti',
      'Sel',
      'Bra',
      'Du',
      'Fen',
      'Gal',
      'Élo',
      'Ira',
      'Jo',
      'Lu',
      'Nor',
      'Pel',
      'Ru',
      'Çe',
    ],
    middle: ['ri', 'lan', 'do', 'mé', 'sto', 'vi', 'ben', 'tha', 'qua', 'ne'],
    end: ['na', 'rek', 'lo', 'mis', 'tan', 'wen', 'dra', 'sol', 'by', 'ric'],
  },
  {
    name: 'Cyrillic',
    begin: [
      'Ка',
      'Мо',
      'Ти',
      'Сел',
      'Бра',
      'Ду',
      'Фен',
      'Гал',
      'Ёр',
      'Ира',
      'Йо',
      'Лу',
      'Нор',
      'Пел',
      'Ру',
      'Вес',
    ],
    middle: ['ри', 'лан', 'до', 'ме', 'сто', 'ви', 'бен', 'та', 'ква', 'не'],
    end: ['на', 'рек', 'ло', 'мис', 'тан', 'вен', 'дра', 'сол', 'бы', 'рик'],
  },
  {
    name: 'Greek',
    begin: [
      'Κα',
      'Μο',
      'Τι',
      'Σελ',
      'Βρα',
      'Δου',
      'Φεν',
      'Γαλ',
      'Έσ',
      'Ίρα',
      'Ιό',
      'Λου',
      'Νορ',
      'Πελ',
      'Ρού',
      'Βέσ',
    ],
    middle: ['ρι', 'λαν', 'δο', 'με', 'στο', 'βι', 'μπεν', 'θα', 'κουα', 'νε'],
    end: ['να', 'ρεκ', 'λο', 'μις', 'ταν', 'γουεν', 'δρα', 'σολ', 'μπι', 'ρικ'],
  },
  {
    name: 'Arabic',
    begin: ['كا', 'مو', 'تي', 'سل', 'برا', 'دو', 'فن', 'جل', 'هس', 'ار', 'جو', 'لو', 'نور', 'بل', 'رو', 'وس'],
    middle: ['ري', 'لن', 'دو', 'مي', 'ستو', 'في', 'بن', 'ثا', 'كوا', 'ني'],
    end: ['نا', 'رك', 'لو', 'مس', 'تن', 'ون', 'درا', 'سول', 'بي', 'رك'],
  },
]

/** Picks a whole number from one to another, both in. */
export type Draw = (least: number, most: number) => number

/** A person as somebody writes them down. Days are as 2019-05-03; a month alone as 2019-05. */
export interface Person {
  given: string
  family: string
  born: string | null
  age: number | null
  sex: string
  place: string
  phone: string
}

export const oneOf = <T>(list: readonly T[], random: Draw): T => list[random(0, list.length - 1)]!

export const word = ({ begin, middle, end }: Script, random: Draw): string =>
  oneOf(begin, random) + oneOf(middle, random) + oneOf(end, random)

const two = (number: number) => String(number).padStart(2, '0')
export const phone = (random: Draw): string => `0${random(1_000_000, 9_999_999)}`

/** Somebody nobody else is like on purpose, born in the sixteen years up to 2026. */
export const person = (script: Script, random: Draw): Person => ({
  given: word(script, random),
  family: word(script, random),
  born: `${random(2010, 2026)}-${two(random(1, 12))}-${two(random(1, 28))}`,
  age: null,
  sex: oneOf(['f', 'm'], random),
  place: `zone_${random(1, 19)}`,
  phone: phone(random),
})
