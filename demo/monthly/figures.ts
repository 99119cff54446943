import { numberOf } from '#core/report/cell'
import type { CellMap } from '#core/report/table'
import type { Kind } from '../places'
import type { Random } from '../random'

/** What one facility is like; its figures scatter around it. */
export interface Character {
  kind: Kind
  /** 1 is a small health centre. */
  size: number
  /** Where the season's peak lies for it, in months. */
  phase: number
}

const SIZES: Record<Kind, number> = {
  hospital: 5,
  'health centre': 1.6,
  'maternity home': 0.9,
  dispensary: 0.7,
  'health post': 0.35,
}

export const characterOf = (kind: Kind, random: Random): Character => ({
  kind,
  size: SIZES[kind] * Math.exp(0.2 * random.normal()),
  phase: random.share(),
})

const DELIVERS: ReadonlySet<Kind> = new Set(['hospital', 'health centre', 'maternity home'])
const VACCINES = ['bcg', 'polio', 'combined', 'pneumo', 'measles', 'tetanus'] as const
const AGES = { u1: 0.1, a1_4: 0.24, a5_14: 0.18, a15plus: 0.48 }

/** Scatter of the big counts: the larger, the calmer. */
const CALM = 90

type Cells = Record<string, CellMap[string]>

/**
 * The undisturbed report of one facility in one month. Parts are drawn from their wholes, so that it breaks
 * no rule.
 * @param month 0 for the first month of the scenario.
 * @param closing last month's closing stock by vaccine; updated in place to this month's.
 */
export function figuresOf(
  character: Character,
  month: number,
  closing: Map<string, number>,
  random: Random,
): CellMap {
  const cells: Cells = {}
  const put = (key: string, value: number) => {
    cells[key] = { kind: 'value', value }
    return value
  }
  const season = 1 + 0.1 * Math.sin((month / 12 + character.phase) * 2 * Math.PI)
  const count = (mean: number) => random.negativeBinomial(mean * season, CALM)
  const got = (key: string) => numberOf(cells[key]) ?? 0
  const notOffered = (...keys: string[]) =>
    keys.forEach(key => {
      cells[key] = { kind: 'notOffered' }
    })

  outpatients({ character, put, count, notOffered, got, random, cells })
  antenatal({ character, put, count, notOffered, got, random, cells })
  births({ character, put, count, notOffered, got, random, cells })
  const given = doses({ character, put, count, notOffered, got, random, cells })
  stock(given, closing, put, random)
  return cells
}

interface Draw {
  character: Character
  put: (key: string, value: number) => number
  count: (mean: number) => number
  notOffered: (...keys: string[]) => void
  got: (key: string) => number
  random: Random
  cells: Cells
}

function outpatients({ character: { kind, size }, put, count, notOffered, got, random }: Draw) {
  let visits = 0
  for (const [age, share] of Object.entries(AGES)) {
    for (const [sex, half] of [
      ['f', 0.53],
      ['m', 0.47],
    ] as const) {
      const seen = put(`new_visits.${age}.${sex}`, count(260 * size * share * half))
      visits += seen
      put(`return_visits.${age}.${sex}`, random.binomial(seen, 0.3))
      const key = `admissions.${age}.${sex}`
      if (DELIVERS.has(kind)) put(key, random.binomial(seen, kind === 'hospital' ? 0.12 : 0.04))
      else notOffered(key)
    }
  }
  for (const [age, share] of [
    ['u5', 0.34],
    ['a5plus', 0.66],
  ] as const) {
    put(`referred_out.${age}`, random.binomial(Math.round(visits * share), kind === 'hospital' ? 0.01 : 0.03))
    const tested = put(`fever_tested.${age}`, random.binomial(Math.round(visits * share), 0.3))
    put(`fever_confirmed.${age}`, random.binomial(tested, 0.11))
    put(`pneumonia.${age}`, random.binomial(Math.round(visits * share), age === 'u5' ? 0.07 : 0.02))
    put(`diarrhoea.${age}`, random.binomial(Math.round(visits * share), age === 'u5' ? 0.1 : 0.03))
  }
  put('injuries.f', random.binomial(visits, 0.02))
  put('injuries.m', random.binomial(visits, 0.035))
  put('days_open', kind === 'hospital' ? 30 : 21 + random.whole(0, 3) + (got('new_visits.u1.f') > 8 ? 2 : 0))
}

function antenatal({ character: { size }, put, count, random }: Draw) {
  const young = put('antenatal_first.u20', count(6 * size))
  const older = put('antenatal_first.a20plus', count(24 * size))
  const first = young + older
  put('antenatal_fourth.u20', random.binomial(young, 0.55))
  put('antenatal_fourth.a20plus', random.binomial(older, 0.64))
  put('antenatal_early', random.binomial(first, 0.36))
  const anaemia = put('anaemia_tested', random.binomial(first, 0.92))
  put('anaemia_found', random.binomial(anaemia, 0.24))
  const syphilis = put('syphilis_tested', random.binomial(first, 0.88))
  const positive = put('syphilis_positive', random.binomial(syphilis, 0.015))
  put('syphilis_treated', random.binomial(positive, 0.9))
  put('tetanus_first', random.binomial(first, 0.45))
  put('tetanus_later', random.binomial(first, 0.5))
}

function births({ character: { kind, size }, put, count, notOffered, random }: Draw) {
  if (!DELIVERS.has(kind)) {
    notOffered(
      'deliveries.u20.facility',
      'deliveries.u20.home',
      'deliveries.a20plus.facility',
      'deliveries.a20plus.home',
      'caesareans',
      'live_births.f',
      'live_births.m',
      'stillbirths_fresh',
      'stillbirths_macerated',
      'low_weight',
      'newborn_deaths',
      'postnatal_early',
      'breastfed_early',
    )
    put('maternal_deaths', random.poisson(0.005))
    return
  }
  const scale = size * (kind === 'maternity home' ? 1.5 : 1)
  const atFacility =
    put('deliveries.u20.facility', count(5 * scale)) + put('deliveries.a20plus.facility', count(23 * scale))
  const atHome =
    put('deliveries.u20.home', random.poisson(0.5 * scale)) +
    put('deliveries.a20plus.home', random.poisson(1.6 * scale))
  const deliveries = atFacility + atHome
  if (kind === 'hospital') put('caesareans', random.binomial(atFacility, 0.2))
  else notOffered('caesareans')
  const babies = deliveries + Math.min(random.binomial(deliveries, 0.012), 2)
  const fresh = put('stillbirths_fresh', random.binomial(babies, 0.008))
  const macerated = put('stillbirths_macerated', random.binomial(babies, 0.007))
  const live = babies - fresh - macerated
  const girls = put('live_births.f', random.binomial(live, 0.49))
  put('live_births.m', live - girls)
  put('low_weight', random.binomial(live, 0.09))
  put('newborn_deaths', random.binomial(live, 0.008))
  put('maternal_deaths', random.poisson(0.0006 * deliveries))
  put('postnatal_early', random.binomial(deliveries, 0.86))
  put('breastfed_early', random.binomial(live, 0.9))
}

/** @returns doses given of each vaccine. */
function doses({ character: { size }, put, count, got, random }: Draw): Map<string, number> {
  const cohort = 24 * size
  const both = (item: string, under: number, over: number) =>
    put(`${item}.u1y`, under) + put(`${item}.o1y`, over)
  const bcg = both('bcg', count(cohort), random.poisson(0.3))
  let polio =
    both('polio_birth', count(cohort * 0.95), 0) +
    both('polio_first', count(cohort * 0.94), random.poisson(0.5))
  polio += both(
    'polio_third',
    random.binomial(got('polio_first.u1y'), 0.9),
    random.binomial(got('polio_first.o1y'), 0.8),
  )
  let combined = both('combined_first', count(cohort * 0.94), random.poisson(0.5))
  combined += both(
    'combined_third',
    random.binomial(got('combined_first.u1y'), 0.91),
    random.binomial(got('combined_first.o1y'), 0.8),
  )
  let pneumo = both('pneumo_first', count(cohort * 0.93), random.poisson(0.5))
  pneumo += both(
    'pneumo_third',
    random.binomial(got('pneumo_first.u1y'), 0.9),
    random.binomial(got('pneumo_first.o1y'), 0.8),
  )
  let measles = both('measles_first', count(cohort * 0.88), random.poisson(1.2))
  measles += both('measles_second', 0, random.binomial(got('measles_first.u1y'), 0.8))
  put('outreach_sessions', random.poisson(3))
  const tetanus = got('tetanus_first') + got('tetanus_later')
  return new Map(Object.entries({ bcg, polio, combined, pneumo, measles, tetanus }))
}

/** Stock that balances: it starts where it ended, and enough comes in to end with about a month's use. */
function stock(
  given: ReadonlyMap<string, number>,
  closing: Map<string, number>,
  put: Draw['put'],
  random: Random,
) {
  for (const vaccine of VACCINES) {
    const doses = given.get(vaccine)!
    const used = Math.ceil((doses * (1.08 + 0.1 * random.share())) / 10) * 10
    const wasted = random.share() < 0.06 ? 10 : 0
    const opening = closing.get(vaccine) ?? used
    const wanted = Math.max(0, 2 * used - opening + wasted)
    const received = Math.ceil(wanted / 20) * 20
    const end = opening + received - used - wasted
    put(`stock_opening.${vaccine}`, opening)
    put(`stock_received.${vaccine}`, received)
    put(`stock_used.${vaccine}`, used)
    put(`stock_wasted.${vaccine}`, wasted)
    put(`stock_closing.${vaccine}`, end)
    put(`days_without.${vaccine}`, random.poisson(0.03))
    closing.set(vaccine, end)
  }
}
