import type { RuleDefinition } from '#core/rule/definition'
import { rule } from '../rule'
import type { Pair } from '../words'

const A_PART: Pair = ['A part above its whole.', 'Une partie dépasse le tout.']

export const EQUIPMENT_RULES: RuleDefinition[] = [
  rule(
    'microscopes_within',
    'mustFix',
    'microscopes_working <= microscopes',
    ['More microscopes work than there are', 'Plus de microscopes fonctionnent qu’il n’y en a'],
    [
      'More microscopes work than stand here. Count again.',
      'Plus de microscopes fonctionnent qu’il n’y en a. Recomptez.',
    ],
    A_PART,
  ),
  rule(
    'concentrators_within',
    'mustFix',
    'concentrators_working <= concentrators',
    ['More concentrators work than there are', 'Plus de concentrateurs fonctionnent qu’il n’y en a'],
    [
      'More concentrators work than stand here. Count again.',
      'Plus de concentrateurs fonctionnent qu’il n’y en a. Recomptez.',
    ],
    A_PART,
  ),
  rule(
    'served_before_the_end',
    'mustFix',
    'autoclave_served_on <= period_end()',
    ['A service after the quarter', 'Un entretien après le trimestre'],
    [
      'The service is later than the quarter. Look at the sheet again.',
      'L’entretien est postérieur au trimestre. Vérifiez la fiche.',
    ],
    ['The day cannot be later than the end of the quarter.', 'Le jour ne peut dépasser la fin du trimestre.'],
  ),
  rule(
    'served_within_two_years',
    'note',
    'years_between(autoclave_served_on, period_end()) < 2',
    ['Not serviced for two years', 'Sans entretien depuis deux ans'],
    ['The autoclave was not serviced for two years.', 'L’autoclave n’a pas été entretenu depuis deux ans.'],
    ['A service is due.', 'Un entretien est à prévoir.'],
  ),
  rule(
    'autoclave_to_sterilise',
    'mustFix',
    'sterile_by = "autoclave" implies autoclave_works',
    ['Sterilised in an autoclave that does not work', 'Stérilisation dans un autoclave en panne'],
    [
      'Instruments are sterilised in an autoclave, and none works. One of the two is not so.',
      'Les instruments passent à l’autoclave, et aucun ne fonctionne. L’un des deux est faux.',
    ],
    ['Two answers that cannot both be right.', 'Deux réponses qui s’excluent.'],
  ),
  rule(
    'malaria_needs_a_microscope',
    'explain',
    'includes(tests_done, "malaria") implies microscopes_working > 0',
    ['Malaria microscopy without a microscope', 'Microscopie du paludisme sans microscope'],
    [
      'Malaria is looked for under a microscope, and none works.',
      'Le paludisme est cherché au microscope, et aucun ne fonctionne.',
    ],
    ['Perhaps the test was done before it broke.', 'L’examen a peut-être été fait avant la panne.'],
  ),
  rule(
    'tuberculosis_needs_a_microscope',
    'explain',
    'includes(tests_done, "tuberculosis") implies microscopes_working > 0',
    ['Sputum without a microscope', 'Crachat sans microscope'],
    [
      'Sputum is examined under a microscope, and none works.',
      'Le crachat s’examine au microscope, et aucun ne fonctionne.',
    ],
    ['Perhaps the test was done before it broke.', 'L’examen a peut-être été fait avant la panne.'],
  ),
  rule(
    'oxygen_pure_enough',
    'explain',
    'oxygen_purity >= 82',
    ['Oxygen below 82 %', 'Oxygène sous 82\u00a0%'],
    [
      'Oxygen below 82 % does not help a patient. Was it measured at the outlet?',
      'Sous 82\u00a0%, l’oxygène n’aide pas le patient. Mesuré à la sortie\u202f?',
    ],
    ['The concentrator needs a service.', 'Le concentrateur doit être entretenu.'],
  ),
  rule(
    'autoclaves_gone',
    'explain',
    'autoclaves >= previous(autoclaves)',
    ['Fewer autoclaves than before', 'Moins d’autoclaves qu’avant'],
    [
      'There are fewer autoclaves than the last time. What happened to it?',
      'Il y a moins d’autoclaves que la dernière fois. Qu’est-il arrivé\u202f?',
    ],
    ['Written off, lent, or not counted.', 'Réformé, prêté ou non compté.'],
  ),
  rule(
    'microscopes_gone',
    'explain',
    'microscopes >= previous(microscopes)',
    ['Fewer microscopes than before', 'Moins de microscopes qu’avant'],
    [
      'There are fewer microscopes than the last time. What happened to it?',
      'Il y a moins de microscopes que la dernière fois. Qu’est-il arrivé\u202f?',
    ],
    ['Written off, lent, or not counted.', 'Réformé, prêté ou non compté.'],
  ),
]
