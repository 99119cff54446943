import type { IndicatorDefinition } from '#core/report/edition'
import type { RuleDefinition } from '#core/rule/definition'
import { rule } from '../rule'
import { CARE_RULES } from './care-rules'
import { TIME_RULES } from './time-rules'

export const RULES: RuleDefinition[] = [
  rule(
    'births_within_deliveries',
    'mustFix',
    'live_births + stillbirths_fresh + stillbirths_macerated <= 1.05 * deliveries + 2',
    ['More births than deliveries', 'Plus de naissances que d’accouchements'],
    [
      'There are more births than deliveries, even with some twins. Check the delivery book.',
      'Il y a plus de naissances que d’accouchements, même avec des jumeaux. Vérifiez le registre.',
    ],
    [
      'Twins explain about 1 in 80 deliveries. More than that is a slip.',
      'Les jumeaux expliquent environ 1 accouchement sur 80. Au-delà, c’est une erreur.',
    ],
  ),
  rule(
    'caesareans_within_deliveries',
    'mustFix',
    'caesareans <= deliveries[facility]',
    ['More caesareans than deliveries', 'Plus de césariennes que d’accouchements'],
    [
      'Caesareans cannot be more than the deliveries at the facility.',
      'Les césariennes ne peuvent dépasser les accouchements à l’établissement.',
    ],
    ['A part above its whole.', 'Une partie dépasse le tout.'],
  ),
  rule(
    'low_weight_within_births',
    'mustFix',
    'low_weight <= live_births',
    ['More low weights than live births', 'Plus de petits poids que de naissances'],
    [
      'Children below 2,500 g cannot be more than the live births.',
      'Les enfants de moins de 2 500 g ne peuvent dépasser les naissances vivantes.',
    ],
    ['A part above its whole.', 'Une partie dépasse le tout.'],
  ),
  rule(
    'newborn_deaths_within_births',
    'mustFix',
    'newborn_deaths <= live_births',
    ['More newborn deaths than live births', 'Plus de décès que de naissances'],
    [
      'Newborn deaths cannot be more than the live births.',
      'Les décès de nouveau-nés ne peuvent dépasser les naissances vivantes.',
    ],
    ['A part above its whole.', 'Une partie dépasse le tout.'],
  ),
  rule(
    'early_within_first',
    'mustFix',
    'antenatal_early <= antenatal_first',
    ['More early visits than first visits', 'Plus de visites précoces que de premières visites'],
    [
      'First visits before 16 weeks are part of the first visits.',
      'Les premières visites avant 16 semaines font partie des premières visites.',
    ],
    ['A part above its whole.', 'Une partie dépasse le tout.'],
  ),
  rule(
    'anaemia_within_tested',
    'mustFix',
    'anaemia_found <= anaemia_tested',
    ['More with anaemia than tested', 'Plus d’anémies que de testées'],
    [
      'Women with anaemia cannot be more than the women tested.',
      'Les femmes anémiées ne peuvent dépasser les femmes testées.',
    ],
    ['Positives never exceed tested.', 'Les positifs ne dépassent jamais les testés.'],
  ),
  rule(
    'syphilis_within_tested',
    'mustFix',
    'syphilis_positive <= syphilis_tested',
    ['More positive for syphilis than tested', 'Plus de positives que de testées'],
    ['Positive tests cannot be more than the tests.', 'Les tests positifs ne peuvent dépasser les tests.'],
    ['Positives never exceed tested.', 'Les positifs ne dépassent jamais les testés.'],
  ),
  rule(
    'treated_within_positive',
    'explain',
    'syphilis_treated <= syphilis_positive',
    ['More treated than positive', 'Plus de traitées que de positives'],
    [
      'More women were treated than were positive. Say why, or correct it.',
      'Plus de femmes traitées que de positives. Dites pourquoi, ou corrigez.',
    ],
    ['Can be women found elsewhere: ask.', 'Peut-être des femmes dépistées ailleurs : demandez.'],
  ),
  rule(
    'fever_within_tested',
    'mustFix',
    'fever_confirmed <= fever_tested',
    ['More parasites found than tested', 'Plus de parasites trouvés que de testés'],
    [
      'People with the parasite cannot be more than the people tested.',
      'Les personnes parasitées ne peuvent dépasser les personnes testées.',
    ],
    ['Positives never exceed tested.', 'Les positifs ne dépassent jamais les testés.'],
    'age2',
  ),
  rule(
    'third_within_first',
    'explain',
    'combined_third <= combined_first',
    ['More third than first combined doses', 'Plus de troisièmes que de premières doses'],
    [
      'More third than first doses. Say why (catching up?), or correct it.',
      'Plus de troisièmes que de premières doses. Dites pourquoi, ou corrigez.',
    ],
    ['A drop-out below zero is a doubt about the data.', 'Un abandon négatif met les données en doute.'],
  ),
  rule(
    'second_within_first',
    'explain',
    'measles_second <= measles_first',
    ['More second than first measles doses', 'Plus de deuxièmes que de premières doses rougeole'],
    [
      'More second than first measles doses. Say why, or correct it.',
      'Plus de deuxièmes que de premières doses. Dites pourquoi, ou corrigez.',
    ],
    ['Below zero, or a campaign: ask.', 'Négatif, ou une campagne : demandez.'],
  ),
  rule(
    'stock_balances',
    'mustFix',
    'stock_opening + stock_received - stock_used - stock_wasted = stock_closing',
    ['Stock does not add up', 'Le stock ne tombe pas juste'],
    [
      'Start plus received, less used and discarded, must be what is left at the end.',
      'Début plus reçues, moins utilisées et jetées, doit donner la fin.',
    ],
    ['The stock card has the answer.', 'La fiche de stock a la réponse.'],
    'vaccine',
  ),
  rule(
    'stock_continues',
    'explain',
    'stock_opening = previous(stock_closing)',
    [
      'Opening stock is not last month’s closing stock',
      'Le stock d’ouverture n’est pas le stock de clôture du mois passé',
    ],
    [
      'Which of the two is right? Correct it, or say why they differ.',
      'Lequel des deux est juste ? Corrigez, ou dites pourquoi ils diffèrent.',
    ],
    [
      'Last month’s closing stock is this month’s opening stock.',
      'Le stock de clôture est le stock d’ouverture du mois suivant.',
    ],
    'vaccine',
  ),
  rule(
    'doses_within_used',
    'explain',
    'measles_first + measles_second <= stock_used[measles]',
    ['More measles doses given than used', 'Plus de doses rougeole données qu’utilisées'],
    [
      'More doses were given than vials opened. Check the tally and the stock card.',
      'Plus de doses données que de flacons ouverts. Vérifiez le pointage et la fiche de stock.',
    ],
    ['Doses cannot be given without stock.', 'On ne donne pas de doses sans stock.'],
  ),
  rule(
    'days_in_month',
    'mustFix',
    'days_open <= 31',
    ['More days than a month has', 'Plus de jours que dans un mois'],
    ['A month has at most 31 days.', 'Un mois a 31 jours au plus.'],
    ['A slip of the finger.', 'Une faute de frappe.'],
  ),
  rule(
    'deliveries_answered',
    'explain',
    'filled(deliveries)',
    ['Deliveries left blank', 'Accouchements laissés en blanc'],
    [
      'Nobody has answered the deliveries. Fill them, or say why not.',
      'Personne n’a répondu pour les accouchements. Remplissez, ou dites pourquoi.',
    ],
    [
      'Blank is not zero: the district total lacks this facility.',
      'Un blanc n’est pas un zéro : le total du district manque cet établissement.',
    ],
  ),
  rule(
    'maternal_deaths_weekly',
    'explain',
    'maternal_deaths >= weekly_diseases.maternal_deaths_week',
    ['Fewer maternal deaths than in the weeks', 'Moins de décès maternels que dans les semaines'],
    [
      'The weekly reports of this month tell of more maternal deaths than this report.',
      'Les rapports hebdomadaires du mois comptent plus de décès maternels que ce rapport.',
    ],
    [
      'Both tools count the same deaths. One of them was left out here, or told twice there.',
      'Les deux outils comptent les mêmes décès. L’un a été oublié ici, ou compté deux fois là.',
    ],
  ),
  ...CARE_RULES,
  ...TIME_RULES,
]

const PERCENT = { en: '%', fr: '%' }

export const INDICATORS: IndicatorDefinition[] = [
  {
    code: 'fourth_visit_share',
    name: { en: 'Fourth antenatal visits for each 100 first', fr: 'Quatrièmes visites pour 100 premières' },
    numerator: 'antenatal_fourth',
    denominator: 'antenatal_first',
    factor: 100,
    unitOfMeasure: PERCENT,
  },
  {
    code: 'caesarean_share',
    name: { en: 'Deliveries by caesarean', fr: 'Accouchements par césarienne' },
    numerator: 'caesareans',
    denominator: 'deliveries[facility]',
    factor: 100,
    unitOfMeasure: PERCENT,
  },
  {
    code: 'stillbirth_rate',
    name: { en: 'Stillbirths', fr: 'Mort-nés' },
    numerator: 'stillbirths_fresh + stillbirths_macerated',
    denominator: 'live_births + stillbirths_fresh + stillbirths_macerated',
    factor: 1000,
    unitOfMeasure: { en: 'per 1,000 births', fr: 'pour 1 000 naissances' },
  },
  {
    code: 'combined_drop_out',
    name: { en: 'Drop-out, first to third combined dose', fr: 'Abandon, première à troisième dose' },
    numerator: 'combined_first - combined_third',
    denominator: 'combined_first',
    factor: 100,
    unitOfMeasure: PERCENT,
  },
  {
    code: 'measles_wastage',
    name: { en: 'Measles doses lost in opened vials', fr: 'Doses rougeole perdues en flacons ouverts' },
    numerator: 'stock_used[measles] - measles_first - measles_second',
    denominator: 'stock_used[measles]',
    factor: 100,
    unitOfMeasure: PERCENT,
  },
  {
    code: 'fever_positive_share',
    name: { en: 'Fever tests with parasite', fr: 'Tests de fièvre avec parasite' },
    numerator: 'fever_confirmed',
    denominator: 'fever_tested',
    factor: 100,
    unitOfMeasure: PERCENT,
  },
]
