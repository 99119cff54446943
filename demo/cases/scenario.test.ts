import { beforeAll, describe, expect, it } from 'vitest'
import { firstDay, lastDay } from '#core/calendar/period'
import { parsePeriod } from '#core/calendar/period-text'
import { dayOf } from '#core/form/answer'
import { groupBy } from '#core/group-by'
import { numberOf } from '#core/report/cell'
import { must } from '#core/result'
import { REGISTER_EDITIONS, SECOND_EDITION_DAY } from '../registers/editions'
import { scenario, type Scenario } from '../scenario'
import type { DemoEntry } from './entry'
import { PLANTED_IN_REGISTERS } from './planted'

let made: Scenario
let entries: DemoEntry[]
beforeAll(() => {
  made = scenario()
  entries = made.cases.entries
})

const answerOf = ({ entry }: DemoEntry, key: string) => {
  const content = entry.answers[key]
  return content?.kind === 'value' ? content.value : undefined
}
const firstOnes = (register: string, form: string) =>
  entries.filter(({ entry }) => entry.register === register && entry.form === form && !entry.corrects)

describe('the cases of the scenario', () => {
  it('are some 420 of measles with their contacts, 160 newborns and 40 visits for water', () => {
    expect(firstOnes('measles_cases', 'registration').length).toBeGreaterThan(400)
    expect(firstOnes('measles_cases', 'registration').length).toBeLessThan(460)
    expect(firstOnes('measles_contacts', 'contact').length).toBeGreaterThan(250)
    expect(firstOnes('newborns', 'birth').length).toBeGreaterThan(145)
    expect(firstOnes('water_visits', 'water_visit')).toHaveLength(40)
  })

  it('come from 40 devices in every state, and never after the device was last heard', () => {
    expect(made.cases.devices).toHaveLength(40)
    const states = [...groupBy(made.cases.devices, ({ state }) => state)].map(([state, own]) => [
      state,
      own.length,
    ])
    expect(Object.fromEntries(states)).toEqual({
      upToDate: 26,
      twoDaysBehind: 4,
      silent: 3,
      oldEdition: 3,
      clockOff: 2,
      blocked: 2,
    })
    expect(entries.filter(({ device, receivedAt }) => receivedAt > device.lastContactAt)).toEqual([])
    expect(entries.filter(({ entry, receivedAt }) => receivedAt < entry.madeAt)).toEqual([])
  })

  it('are in two editions, some late, some corrected', () => {
    const registered = firstOnes('measles_cases', 'registration')
    const inOld = registered.filter(({ entry }) => entry.edition === 1)
    expect(inOld.length).toBeGreaterThan(50)
    // A telephone that has not heard of the new edition goes on in the old one.
    const after = inOld.filter(({ entry }) => entry.madeAt > SECOND_EDITION_DAY)
    expect(after.length).toBeGreaterThan(0)
    expect(new Set(after.map(({ device }) => device.state))).toEqual(new Set(['oldEdition']))
    expect(REGISTER_EDITIONS[0]!.definition.forms[0]!.form.parts).not.toEqual(
      REGISTER_EDITIONS[1]!.definition.forms[0]!.form.parts,
    )
    const days = ({ entry, receivedAt }: DemoEntry) =>
      (Date.parse(receivedAt) - Date.parse(entry.madeAt)) / 86_400_000
    expect(entries.filter(one => days(one) > 1.5).length / entries.length).toBeGreaterThan(0.08)
    expect(entries.filter(({ entry }) => entry.corrects).length).toBeGreaterThan(15)
  })

  it('are those that the weekly reports count, but for what waits on a device or was planted', () => {
    const spoiled = new Set(PLANTED_IN_REGISTERS.flatMap(({ unit, at }) => (at ? [unit, at] : [unit])))
    const upToDate = made.cases.devices.filter(
      ({ state, unit, lastContactAt }) =>
        state === 'upToDate' && lastContactAt > '2026-11-09' && !spoiled.has(unit),
    )
    const registered = firstOnes('measles_cases', 'registration').map(one => ({
      unit: one.entry.unit,
      rash: dayOf(String(answerOf(one, 'rash_on')))!,
    }))
    let compared = 0
    for (const { round, unit, cells } of made.reports) {
      if (!round.startsWith('weekly_diseases~') || round > 'weekly_diseases~2026-W42') continue
      if (!upToDate.some(device => device.unit === unit)) continue
      const week = must(parsePeriod(round.split('~')[1]!))
      const counted = (numberOf(cells['measles.u5']) ?? 0) + (numberOf(cells['measles.a5plus']) ?? 0)
      const own = registered.filter(
        case_ => case_.unit === unit && case_.rash >= firstDay(week) && case_.rash <= lastDay(week),
      )
      expect(own.length, `${round} ${unit}`).toBe(counted)
      compared += counted
    }
    expect(compared).toBeGreaterThan(100)
  })

  it('have figures that a health worker would believe', () => {
    const weights = firstOnes('newborns', 'birth').map(one => Number(answerOf(one, 'birth_weight')))
    const low = weights.filter(weight => weight < 2_500).length / weights.length
    // Worldwide about one newborn in seven is below 2,500 grams, in healthy places one in fifteen (common
    // practice).
    expect(low).toBeGreaterThan(0.03)
    expect(low).toBeLessThan(0.15)
    const results = firstOnes('measles_cases', 'specimen').flatMap(one => answerOf(one, 'result') ?? [])
    // Most suspected cases turn out to be something else.
    expect(results.filter(result => result === 'positive').length / results.length).toBeLessThan(0.4)
    const visits = ['day_3', 'day_7', 'day_42'].map(form => firstOnes('newborns', form).length)
    expect(visits).toEqual([...visits].sort((one, other) => other - one))
  })
})
