import type { VisitReason } from '#core/visit/why-visit'
import { PLANTED_ROUND } from './planted'

const effect = (value: number): VisitReason => ({ why: 'effect', value, of: null })
const doubts = (value: number): VisitReason => ({ why: 'doubts', value, of: null })

/** A visit that a district's officer made: what of which report was counted again, and how far it was off. */
interface DemoVisit {
  unit: string
  officer: string
  madeOn: string
  /** Why it was planned. */
  reasons: readonly VisitReason[]
  found: string
  round: string
  /** Items with what was counted as a share of what was reported. */
  recounts: readonly { item: string; share: number }[]
}

/** The visits that were made lately: two recounts are far from their reports. */
export const VISITS_MADE: readonly DemoVisit[] = [
  {
    ...{ unit: 'mallow_creek', officer: 'ashmere', madeOn: '2026-10-20', round: 'monthly_summary~2026-09' },
    reasons: [effect(0.081)],
    found: 'The antenatal register is kept well. The vaccine register lacks two pages.',
    recounts: [
      { item: 'antenatal_first', share: 1 },
      { item: 'measles_first', share: 1 },
    ],
  },
  {
    ...{ unit: 'eastfold', officer: 'ashmere', madeOn: '2026-11-05', round: PLANTED_ROUND },
    reasons: [doubts(5)],
    found: 'Registers and report agree.',
    recounts: [{ item: 'antenatal_first', share: 1 }],
  },
  {
    ...{ unit: 'weir_street', officer: 'tolben_vale', madeOn: '2026-11-06', round: PLANTED_ROUND },
    reasons: [effect(0.124), doubts(6)],
    found: 'Doses of the outreach were written into two registers, and counted twice.',
    recounts: [
      { item: 'measles_first', share: 0.6 },
      { item: 'antenatal_first', share: 1 },
    ],
  },
  {
    ...{ unit: 'chalk_hill', officer: 'sorrel_downs', madeOn: '2026-11-06', round: PLANTED_ROUND },
    reasons: [effect(0.067)],
    found: 'First visits of the last week were not added up.',
    recounts: [{ item: 'antenatal_first', share: 1.5 }],
  },
]

/** The visits that are planned. */
export const VISITS_PLANNED = [
  {
    ...{ unit: 'fenwick_lane', officer: 'ashmere', plannedFor: '2026-11-12' },
    reasons: [effect(0.052)],
    note: 'Bring the fever register and a new tablet charger.',
  },
  {
    ...{ unit: 'coldwell', officer: 'tolben_vale', plannedFor: '2026-11-16' },
    reasons: [doubts(5)],
    note: 'Deliveries were left blank.',
  },
] as const

const isVerified = (share: number) => share >= 0.9 && share <= 1.1

/** The doubts that these recounts raise. */
export const PLANTED_RECOUNTS = VISITS_MADE.flatMap(({ unit, round, recounts }) =>
  recounts.flatMap(({ item, share }) =>
    isVerified(share) ? [] : [{ kind: 'recountApart', unit, round, key: `recount:${item}` }],
  ),
)
