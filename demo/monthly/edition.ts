import { namedDataset, withOthers } from '#core/define/named-datasets'
import type { Edition } from '#core/report/edition'
import { WEEKLY_DISEASES } from '../weekly/edition'
import { AXES } from './axes'
import { INDICATORS, RULES } from './rules'
import { SECTIONS } from './sections'

/** Edition 1 of the monthly facility summary: 5 sections, 47 items, 120 cells. */
const OWN: Edition = {
  dataset: 'monthly_summary',
  number: 1,
  name: { en: 'Monthly facility summary', fr: 'Résumé mensuel de l’établissement' },
  frequency: 'month',
  timing: { opensAhead: 0, dueDays: 7, closeDays: 30 },
  axes: AXES,
  sections: SECTIONS,
  rules: RULES,
  indicators: INDICATORS,
}

/** With the weekly dataset that one of its rules names. */
export const MONTHLY_SUMMARY: Edition = withOthers(OWN, [namedDataset(WEEKLY_DISEASES)])
