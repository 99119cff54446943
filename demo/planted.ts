import { TOLD_IN_THE_WEEK, WEEKLY_PLANTED } from './weekly/planted'
import { EQUIPMENT_PLANTED } from './quarterly/planted'
import type { Planted } from './report'

type PlantedDoubt = Omit<Planted, 'round'>

export const PLANTED_ROUND = 'monthly_summary~2026-10'

const swap = (value: number) => Number([...String(value)].reverse().join(''))

const above = (
  unit: string,
  rule: string,
  part: string,
  whole: string[],
  by: number,
  band?: string,
): PlantedDoubt => ({
  kind: 'partAboveWhole',
  unit,
  key: `rule:${rule}${band ? `:${band}` : ''}`,
  spoil: of => ({ [part]: whole.reduce((sum, cell) => sum + of(cell), 0) + by }),
})
const tenTimes = (unit: string, cell: string): PlantedDoubt => ({
  kind: 'tenTimes',
  unit,
  key: `range:${cell}`,
  spoil: of => ({ [cell]: of(cell) * 10 }),
})
const zero = (unit: string, cell: string): PlantedDoubt => ({
  kind: 'zeroNeverZero',
  unit,
  key: `range:${cell}`,
  spoil: () => ({ [cell]: 0 }),
})
/** Opening and closing move together: the month adds up, but does not start where the last one ended. */
const restart = (unit: string, vaccine: string, by: number): PlantedDoubt => ({
  kind: 'stockDoesNotContinue',
  unit,
  key: `rule:stock_continues:${vaccine}`,
  spoil: of => ({
    [`stock_opening.${vaccine}`]: of(`stock_opening.${vaccine}`) + by,
    [`stock_closing.${vaccine}`]: of(`stock_closing.${vaccine}`) + by,
  }),
})
const unbalanced = (unit: string, vaccine: string, by: number): PlantedDoubt => ({
  kind: 'stockDoesNotAddUp',
  unit,
  key: `rule:stock_balances:${vaccine}`,
  spoil: of => ({ [`stock_closing.${vaccine}`]: of(`stock_closing.${vaccine}`) + by }),
})

const impossibleDays = (unit: string, days: number): PlantedDoubt => ({
  kind: 'impossibleDays',
  unit,
  key: 'rule:days_in_month',
  spoil: () => ({ days_open: days }),
})
/** Fewer doses used than given, and so more of them left. */
const dosesWithoutStock = (unit: string): PlantedDoubt => ({
  kind: 'dosesWithoutStock',
  unit,
  key: 'rule:doses_within_used',
  spoil: of => {
    const missing = of('stock_used.measles') - 20
    return { 'stock_used.measles': 20, 'stock_closing.measles': of('stock_closing.measles') + missing }
  },
})
const deliveriesLeftBlank = (unit: string): PlantedDoubt => ({
  kind: 'leftBlank',
  unit,
  key: 'rule:deliveries_answered',
  spoil: () => ({
    'deliveries.u20.facility': null,
    'deliveries.u20.home': null,
    'deliveries.a20plus.facility': null,
    'deliveries.a20plus.home': null,
  }),
})
/** The visits of the month before, written once more. Nothing looks for it yet. */
const visitsCopied = (unit: string): PlantedDoubt => ({
  kind: 'lastMonthCopied',
  unit,
  key: null,
  spoil: (_, before) =>
    Object.fromEntries(
      Object.entries(before).flatMap(([cell, content]) =>
        /^(new|return)_visits\./.test(cell) && content.kind === 'value' ? [[cell, content.value]] : [],
      ),
    ),
})

const MONTHLY: readonly PlantedDoubt[] = [
  {
    // The digits of the boys were swapped: 24 became 42.
    kind: 'swappedDigits',
    unit: 'lowgate',
    key: 'rule:births_within_deliveries',
    spoil: of => ({ 'live_births.m': Math.max(swap(of('live_births.m')), of('live_births.m') + 18) }),
  },
  tenTimes('sedge_bay', 'antenatal_first.a20plus'),
  above(
    'sedge_bay',
    'second_within_first',
    'measles_second.o1y',
    ['measles_first.u1y', 'measles_first.o1y'],
    4,
  ),
  zero('ashmere', 'return_visits.a15plus.f'),
  above(
    'ashmere',
    'third_within_first',
    'combined_third.u1y',
    ['combined_first.u1y', 'combined_first.o1y'],
    9,
  ),
  restart('ashmere', 'polio', 60),
  dosesWithoutStock('mallow_creek'),
  above('fenwick_lane', 'fever_within_tested', 'fever_confirmed.u5', ['fever_tested.u5'], 3, 'u5'),
  above('eastfold', 'anaemia_within_tested', 'anaemia_found', ['anaemia_tested'], 5),
  above(
    'tolben',
    'caesareans_within_deliveries',
    'caesareans',
    ['deliveries.u20.facility', 'deliveries.a20plus.facility'],
    6,
  ),
  tenTimes('weir_street', 'new_visits.a15plus.m'),
  above('larch_house', 'low_weight_within_births', 'low_weight', ['live_births.f', 'live_births.m'], 2),
  impossibleDays('tanner_hill', 42),
  deliveriesLeftBlank('coldwell'),
  above(
    'quillan',
    'early_within_first',
    'antenatal_early',
    ['antenatal_first.u20', 'antenatal_first.a20plus'],
    11,
  ),
  unbalanced('lantern_quay', 'combined', 30),
  above('gull_rock', 'treated_within_positive', 'syphilis_treated', ['syphilis_positive'], 2),
  zero('sorrel', 'fever_tested.u5'),
  above('chalk_hill', 'syphilis_within_tested', 'syphilis_positive', ['syphilis_tested'], 1),
  restart('barrow_down', 'bcg', -20),
  {
    kind: 'twoToolsDiffer',
    unit: TOLD_IN_THE_WEEK.unit,
    key: 'rule:maternal_deaths_weekly',
    spoil: () => ({ maternal_deaths: 0 }),
  },
  above(
    'reedham_ford',
    'third_within_first',
    'combined_third.u1y',
    ['combined_first.u1y', 'combined_first.o1y'],
    7,
  ),
  above('dunlow', 'fever_within_tested', 'fever_confirmed.u5', ['fever_tested.u5'], 2, 'u5'),
  tenTimes('kestrel', 'antenatal_first.a20plus'),
  tenTimes('stonegarth', 'new_visits.a15plus.f'),
  restart('farholm', 'polio', 40),
  unbalanced('wrack_sound', 'measles', 25),
  above(
    'hazelbury',
    'second_within_first',
    'measles_second.o1y',
    ['measles_first.u1y', 'measles_first.o1y'],
    3,
  ),
  zero('thorncote', 'new_visits.a15plus.f'),
  above('heather_moor', 'anaemia_within_tested', 'anaemia_found', ['anaemia_tested'], 4),
  impossibleDays('gorse_hill', 35),
  deliveriesLeftBlank('chalkwater'),
  dosesWithoutStock('primrose'),
  visitsCopied('cormorant'),
  visitsCopied('oxmere'),
]

/**
 * Every doubt that the generator puts in: into the monthly round of October, the week that falls due today,
 * and the last quarter. A test checks that the application finds each that has a key. What is planted in the
 * registers stands in `cases/planted.ts`.
 */
export const PLANTED: readonly Planted[] = [
  ...MONTHLY.map(doubt => ({ ...doubt, round: PLANTED_ROUND })),
  ...WEEKLY_PLANTED,
  ...EQUIPMENT_PLANTED,
]

/** The rounds that have them: their reports are checked, and what has no doubt is accepted. */
export const PLANTED_ROUNDS = new Set(PLANTED.map(({ round }) => round))

/** Those of one report. */
export const plantedIn = (round: string, unit: string): Planted[] =>
  PLANTED.filter(doubt => doubt.round === round && doubt.unit === unit)
