import type { Edition } from '#core/report/edition'
import { MONTHLY_SUMMARY } from './monthly/edition'
import { EQUIPMENT } from './quarterly/edition'
import { WEEKLY_DISEASES } from './weekly/edition'

/** The datasets of the scenario, each with the first day from which facilities report it. */
export const DATASETS: readonly { edition: Edition; from: string }[] = [
  { edition: MONTHLY_SUMMARY, from: '2025-05-01' },
  // The Monday of week 38.
  { edition: WEEKLY_DISEASES, from: '2025-09-15' },
  { edition: EQUIPMENT, from: '2025-04-01' },
]
