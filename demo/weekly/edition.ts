import type { Edition, Item } from '#core/report/edition'
import { words, type Pair } from '../words'
import { COUNTED_MEASLES, WEEKLY_CASE_COUNTS } from './case-counts'
import { WEEKLY_RULES } from './rules'

/** Rare: one is looked into whatever was before, and a range would cry wolf at each. */
const RARE = new Set([
  'watery_diarrhoea_deaths',
  'measles',
  'measles_deaths',
  'dengue_tested',
  'dengue_confirmed',
  'neonatal_tetanus',
  'maternal_deaths_week',
])

const item = (code: string, name: Pair, definition: Pair, axes: string[] = []): Item => ({
  code,
  name: words(name),
  definition: words(definition),
  kind: 'wholeNumber',
  unitOfMeasure: 'count',
  rollUp: 'sum',
  // Small counts: an exact bound, far out, so that a quiet year does not cry wolf.
  range: RARE.has(code) ? null : { method: 'poisson', tail: 0.000_01, raises: 'explain' },
  axes,
})

const DIED: Pair = [
  'Of those counted above, died in this week.',
  'Parmi les cas ci-dessus, décédés cette semaine.',
]

const CASES: Item[] = [
  item(
    'watery_diarrhoea',
    ['Watery diarrhoea', 'Diarrhée aqueuse'],
    ['Three or more watery stools in 24 hours.', 'Trois selles liquides ou plus en 24 heures.'],
    ['age2'],
  ),
  item('watery_diarrhoea_deaths', ['Deaths from it', 'Décès par diarrhée aqueuse'], DIED, ['age2']),
  item(
    'bloody_diarrhoea',
    ['Bloody diarrhoea', 'Diarrhée sanglante'],
    ['Diarrhoea with blood that was seen.', 'Diarrhée avec sang visible.'],
    ['age2'],
  ),
  item(
    'measles',
    ['Suspected measles', 'Rougeole suspectée'],
    ['Fever and rash, or suspected by a clinician.', 'Fièvre et éruption, ou suspicion du clinicien.'],
    ['age2'],
  ),
  item('measles_deaths', ['Deaths with suspected measles', 'Décès, rougeole suspectée'], DIED, ['age2']),
]

const OTHERS: Item[] = [
  item(
    'dengue',
    ['Suspected dengue', 'Dengue suspectée'],
    ['Fever of 2 to 7 days with two signs or more.', 'Fièvre de 2 à 7 jours avec deux signes ou plus.'],
  ),
  item(
    'dengue_tested',
    ['Tested for dengue', 'Testés pour la dengue'],
    ['Of the suspected, had a rapid test.', 'Parmi les suspects, test rapide fait.'],
  ),
  item(
    'dengue_confirmed',
    ['Dengue confirmed', 'Dengue confirmée'],
    ['Of the tested, positive.', 'Parmi les testés, positifs.'],
  ),
  item(
    'animal_bites',
    ['Animal bites', 'Morsures d’animaux'],
    ['Bites by dogs and other animals that may carry rabies.', 'Morsures d’animaux pouvant porter la rage.'],
  ),
  item(
    'neonatal_tetanus',
    ['Neonatal tetanus', 'Tétanos néonatal'],
    ['A newborn who sucked and then stopped, with spasms.', 'Nouveau-né qui cesse de téter, avec spasmes.'],
  ),
  item(
    'maternal_deaths_week',
    ['Maternal deaths', 'Décès maternels'],
    ['In pregnancy or within 42 days of its end.', 'Pendant la grossesse ou dans les 42 jours.'],
  ),
]

/** Edition 1 of the weekly diseases to watch: 11 items, 16 cells. */
export const WEEKLY_DISEASES: Edition = {
  dataset: 'weekly_diseases',
  number: 1,
  name: words(['Weekly diseases to watch', 'Maladies à suivre chaque semaine']),
  frequency: 'week',
  timing: { opensAhead: 5, dueDays: 1, closeDays: 21 },
  axes: [
    {
      code: 'age2',
      name: words(['Age', 'Âge']),
      bands: [
        { code: 'u5', name: words(['under 5', 'moins de 5 ans']) },
        { code: 'a5plus', name: words(['5 and over', '5 ans et plus']) },
      ],
    },
  ],
  sections: [
    { code: 'cases_by_age', name: words(['Cases and deaths by age', 'Cas et décès par âge']), items: CASES },
    { code: 'other_cases', name: words(['Other cases', 'Autres cas']), items: OTHERS },
  ],
  rules: WEEKLY_RULES,
  counts: [COUNTED_MEASLES],
  caseCounts: WEEKLY_CASE_COUNTS,
  indicators: [
    {
      code: 'dengue_positive',
      name: words(['Dengue tests that are positive', 'Tests de dengue positifs']),
      numerator: 'dengue_confirmed',
      denominator: 'dengue_tested',
      factor: 100,
      unitOfMeasure: words(['%', '%']),
    },
  ],
}
