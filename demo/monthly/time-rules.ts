import type { RuleDefinition } from '#core/rule/definition'
import { rule } from '../rule'
import type { Pair } from '../words'

const COMPARE: Pair = [
  'Compare it with the months before. Is a week missing, or counted twice?',
  'Comparez avec les mois précédents. Une semaine manque-t-elle, ou est-elle comptée deux fois\u202f?',
]
const STEEP: Pair = [
  'A change this steep is rare: a slip, or something the district should know of.',
  'Un tel changement est rare\u00a0: erreur, ou fait que le district doit connaître.',
]

/** What a month says beside the months before it, and beside its weeks. */
export const TIME_RULES: RuleDefinition[] = [
  rule(
    'visits_fell',
    'explain',
    'new_visits >= 0.4 * mean_of_last(new_visits, 3) - 10',
    ['Far fewer new visits than before', 'Bien moins de nouvelles visites qu’avant'],
    COMPARE,
    STEEP,
  ),
  rule(
    'deliveries_rose',
    'explain',
    'deliveries <= 2.5 * mean_of_last(deliveries, 3) + 10',
    ['Far more deliveries than before', 'Bien plus d’accouchements qu’avant'],
    COMPARE,
    STEEP,
  ),
  rule(
    'days_open_fell',
    'note',
    'days_open >= 0.6 * mean_of_last(days_open, 3)',
    ['Open on far fewer days than before', 'Ouvert bien moins de jours qu’avant'],
    ['Was the facility closed for some days?', 'L’établissement a-t-il été fermé quelques jours\u202f?'],
    ['Fewer days explain fewer visits.', 'Moins de jours expliquent moins de visites.'],
  ),
  rule(
    'fourth_after_first',
    'explain',
    'antenatal_fourth <= sum_of_last(antenatal_first, 6)',
    [
      'More fourth visits than first visits in half a year',
      'Plus de quatrièmes visites que de premières en six mois',
    ],
    [
      'Each fourth visit follows a first one. Check both columns of the register.',
      'Chaque quatrième visite suit une première. Vérifiez les deux colonnes du registre.',
    ],
    ['The columns may be exchanged.', 'Les colonnes sont peut-être inversées.'],
  ),
  rule(
    'third_after_first',
    'note',
    'combined_third <= sum_of_last(combined_first, 3)',
    ['More third doses than first doses before', 'Plus de troisièmes doses que de premières auparavant'],
    [
      'Third doses follow first ones given months before.',
      'Les troisièmes doses suivent les premières de mois précédents.',
    ],
    ['Perhaps children from elsewhere, or a campaign.', 'Peut-être des enfants d’ailleurs, ou une campagne.'],
  ),
  rule(
    'use_rose',
    'note',
    'stock_used <= 3 * mean_of_last(stock_used, 3) + 60',
    ['Far more doses used than before', 'Bien plus de doses utilisées qu’avant'],
    [
      'Was there a campaign? Check the stock card.',
      'Y a-t-il eu une campagne\u202f? Vérifiez la fiche de stock.',
    ],
    ['A campaign, or a slip.', 'Une campagne, ou une erreur.'],
    'vaccine',
  ),
  rule(
    'nothing_left_is_told',
    'explain',
    'previous(stock_closing) = 0 implies stock_received > 0 or days_without > 0',
    ['No stock, and no day without', 'Pas de stock, et aucun jour de rupture'],
    [
      'Nothing was left last month and nothing came. On how many days was there none?',
      'Il ne restait rien et rien n’est arrivé. Combien de jours sans\u202f?',
    ],
    [
      'Days without stock that are not told hide a shortage.',
      'Des jours de rupture non dits cachent un manque.',
    ],
    'vaccine',
  ),
  rule(
    'outreach_stopped',
    'note',
    'outreach_sessions > 0 or sum_of_last(outreach_sessions, 2) = 0',
    ['No outreach session this month', 'Aucune séance avancée ce mois'],
    ['Why was there none?', 'Pourquoi n’y en a-t-il pas eu\u202f?'],
    ['A vehicle, fuel, or a nurse is missing.', 'Il manque un véhicule, du carburant ou une infirmière.'],
  ),
  rule(
    'diarrhoea_weekly',
    'explain',
    'diarrhoea + 10 >= 0.5 * (weekly_diseases.watery_diarrhoea + weekly_diseases.bloody_diarrhoea)',
    ['Far less diarrhoea than in the weeks', 'Bien moins de diarrhées que dans les semaines'],
    [
      'The weekly reports of this month tell of far more diarrhoea than this report.',
      'Les rapports hebdomadaires du mois comptent bien plus de diarrhées que ce rapport.',
    ],
    ['Both tools count the same visits.', 'Les deux outils comptent les mêmes visites.'],
  ),
]
