import type { Answers } from '#core/form/answer'
import type { DemoDevice } from './devices'
import type { DemoEntry } from './entry'
import { identifierOf } from './identifier'

/** What is wrong in the registers. What finds it comes later than the registers; it is planted all the same. */
export type RegisterSlip =
  'samePersonTwice' | 'wrongFacility' | 'registerHasMore' | 'reportHasMore' | 'twoDevicesDiffer'

export interface PlantedInRegister {
  kind: RegisterSlip
  /** The facility whose newest measles case with this unit is spoiled. */
  unit: string
  /** The facility that it is entered under, by mistake. */
  at?: string
}

export const PLANTED_IN_REGISTERS: readonly PlantedInRegister[] = [
  ...['pell_harbour', 'hollin_bridge', 'chalk_hill', 'hazelbury'].map(unit => ({
    kind: 'samePersonTwice' as const,
    unit,
  })),
  { kind: 'wrongFacility', unit: 'mallow_creek', at: 'sedge_bay' },
  { kind: 'wrongFacility', unit: 'lantern_quay', at: 'gull_rock' },
  { kind: 'registerHasMore', unit: 'amber_cross' },
  { kind: 'registerHasMore', unit: 'weir_street' },
  { kind: 'reportHasMore', unit: 'kestrel' },
  { kind: 'reportHasMore', unit: 'primrose' },
  { kind: 'twoDevicesDiffer', unit: 'tolben' },
  { kind: 'twoDevicesDiffer', unit: 'sorrel' },
]

const textOf = (answers: Answers, key: string): string => {
  const content = answers[key]
  if (content?.kind !== 'value') throw new Error(`The case to spoil has no ${key}.`)
  return String(content.value)
}

/** Two neighbouring letters change places, as a hurried hand writes them. */
const swapped = (name: string) => name.replace(/^(..)(.)(.)/, '$1$3$2')

/** The same entry once more, as a case of its own or as a correction. */
const again = (
  of: DemoEntry,
  name: string,
  more: Partial<DemoEntry['entry']>,
  answers: Answers,
): DemoEntry => ({
  ...of,
  entry: {
    ...of.entry,
    ...more,
    id: identifierOf(`entry ${name}`),
    answers: { ...of.entry.answers, ...answers },
  },
})
const asCase = (of: DemoEntry, number: string, answers: Answers) =>
  again(of, `${number} registration`, { case: identifierOf(`case ${number}`) }, answers)
const value = (text: string) => ({ kind: 'value' as const, value: text })

function spoil(entries: DemoEntry[], slip: PlantedInRegister, devices: readonly DemoDevice[]): DemoEntry[] {
  const newest = entries.findLast(
    ({ entry }) => entry.form === 'registration' && entry.unit === slip.unit && !entry.corrects,
  )
  if (!newest) throw new Error(`No case is registered at ${slip.unit}.`)
  const number = textOf(newest.entry.answers, 'case_number')
  const name = textOf(newest.entry.answers, 'full_name')
  switch (slip.kind) {
    case 'samePersonTwice':
      return [
        ...entries,
        asCase(newest, `${number.slice(0, -4)}9${number.slice(-3)}`, {
          case_number: value(`${number.slice(0, -4)}9${number.slice(-3)}`),
          full_name: value(swapped(name)),
        }),
      ]
    case 'registerHasMore':
      return [
        ...entries,
        asCase(newest, `${number.slice(0, -4)}8${number.slice(-3)}`, {
          case_number: value(`${number.slice(0, -4)}8${number.slice(-3)}`),
          full_name: value([...name.split(' ')].reverse().join(' ')),
          born_on: value('2019-03'),
        }),
      ]
    case 'reportHasMore':
      return entries.filter(
        ({ entry }) => entry.case !== newest.entry.case && entry.parent !== newest.entry.case,
      )
    case 'wrongFacility': {
      const device = devices.find(({ unit }) => unit === slip.at)!
      return entries.map(one =>
        one.entry.case === newest.entry.case || one.entry.parent === newest.entry.case
          ? { ...one, device, entry: { ...one.entry, unit: slip.at! } }
          : one,
      )
    }
    case 'twoDevicesDiffer':
      return [
        ...entries,
        ...devices
          .filter(({ unit }) => unit === slip.unit)
          .map((device, at) => ({
            ...again(
              newest,
              `${number} corrected on ${device.name}`,
              { corrects: newest.entry.id },
              { sex: value(at ? 'm' : 'f') },
            ),
            device,
          })),
      ]
  }
}

/** The pairs of cases that are one person, in entries with everything that is planted in them. */
export function plantedPairs(entries: readonly DemoEntry[]): { one: string; other: string }[] {
  return PLANTED_IN_REGISTERS.flatMap(({ kind, unit }) => {
    if (kind !== 'samePersonTwice') return []
    const numberOf = (entry: DemoEntry['entry']) => textOf(entry.answers, 'case_number')
    const own = entries.filter(
      ({ entry }) => entry.form === 'registration' && entry.unit === unit && !entry.corrects,
    )
    const second = own.find(({ entry }) => numberOf(entry).at(-4) === '9')!.entry
    const first = own.find(
      ({ entry }) => entry !== second && numberOf(entry).slice(-3) === numberOf(second).slice(-3),
    )!.entry
    return [{ one: first.case, other: second.case }]
  })
}

/** The entries with everything that is planted in them. */
export const withPlanted = (entries: readonly DemoEntry[], devices: readonly DemoDevice[]): DemoEntry[] =>
  PLANTED_IN_REGISTERS.reduce((now, slip) => spoil(now, slip, devices), [...entries])
