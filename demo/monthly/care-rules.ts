import type { RuleDefinition } from '#core/rule/definition'
import { rule } from '../rule'
import type { Pair } from '../words'

const A_PART: Pair = ['A part above its whole.', 'Une partie dépasse le tout.']
const CHECK_THE_TALLY: Pair = [
  'Check the tally sheet: one of the two is wrong.',
  'Vérifiez la feuille de pointage\u00a0: l’un des deux est faux.',
]
const ASK: Pair = [
  'It can be right: ask what happened.',
  'C’est possible\u00a0: demandez ce qui s’est passé.',
]

/** What cannot be more than what it is a part of. */
const within = (
  code: string,
  part: string,
  whole: string,
  name: Pair,
  strength: RuleDefinition['strength'] = 'mustFix',
) => rule(code, strength, `${part} <= ${whole}`, name, CHECK_THE_TALLY, strength === 'mustFix' ? A_PART : ASK)

/** Parts and wholes within one month. */
export const CARE_RULES: RuleDefinition[] = [
  within('admissions_within_visits', 'admissions', 'new_visits + return_visits', [
    'More admissions than visits',
    'Plus d’admissions que de visites',
  ]),
  within('referred_within_visits', 'referred_out', 'new_visits + return_visits', [
    'More referred than seen',
    'Plus de référés que de patients vus',
  ]),
  within('tested_within_visits', 'fever_tested', 'new_visits + return_visits', [
    'More tested for fever than seen',
    'Plus de tests de fièvre que de patients vus',
  ]),
  within('pneumonia_within_visits', 'pneumonia', 'new_visits', [
    'More pneumonia than new visits',
    'Plus de pneumonies que de nouvelles visites',
  ]),
  within('diarrhoea_within_visits', 'diarrhoea', 'new_visits', [
    'More diarrhoea than new visits',
    'Plus de diarrhées que de nouvelles visites',
  ]),
  within('injuries_within_visits', 'injuries', 'new_visits', [
    'More injuries than new visits',
    'Plus de blessures que de nouvelles visites',
  ]),
  within(
    'anaemia_tested_within_visits',
    'anaemia_tested',
    'antenatal_first + antenatal_fourth',
    ['More tested for anaemia than seen', 'Plus de tests d’anémie que de femmes vues'],
    'explain',
  ),
  within(
    'syphilis_tested_within_visits',
    'syphilis_tested',
    'antenatal_first + antenatal_fourth',
    ['More tested for syphilis than seen', 'Plus de tests de syphilis que de femmes vues'],
    'explain',
  ),
  within(
    'tetanus_near_antenatal',
    'tetanus_first + tetanus_later',
    '2 * antenatal_first + 10',
    ['Many tetanus doses for so few women', 'Beaucoup de doses de tétanos pour si peu de femmes'],
    'explain',
  ),
  within(
    'postnatal_near_deliveries',
    'postnatal_early',
    '1.2 * deliveries + 5',
    ['More early visits after birth than deliveries', 'Plus de visites postnatales que d’accouchements'],
    'explain',
  ),
  within('breastfed_within_births', 'breastfed_early', 'live_births', [
    'More children breastfed early than born',
    'Plus d’enfants allaités tôt que de naissances',
  ]),
  within(
    'polio_third_within_first',
    'polio_third',
    'polio_first',
    ['More third than first polio doses', 'Plus de troisièmes que de premières doses polio'],
    'explain',
  ),
  within(
    'pneumo_third_within_first',
    'pneumo_third',
    'pneumo_first',
    ['More third than first pneumococcal doses', 'Plus de troisièmes que de premières doses pneumocoque'],
    'explain',
  ),
  within(
    'maternal_deaths_near_deliveries',
    'maternal_deaths',
    '0.1 * deliveries + 1',
    ['Many maternal deaths for so few deliveries', 'Beaucoup de décès maternels pour si peu d’accouchements'],
    'explain',
  ),
]
