import type { RuleDefinition } from '#core/rule/definition'
import { rule } from '../rule'
import type { Pair } from '../words'

const A_PART: Pair = ['A part above its whole.', 'Une partie dépasse le tout.']
const ASK_BY_TELEPHONE: Pair = [
  'Ask by telephone today: it is rare, and each one is looked into.',
  'Téléphonez aujourd’hui\u00a0: c’est rare, et chaque cas est recherché.',
]

export const WEEKLY_RULES: RuleDefinition[] = [
  rule(
    'diarrhoea_deaths_within',
    'mustFix',
    'watery_diarrhoea_deaths <= watery_diarrhoea',
    ['More deaths than cases of watery diarrhoea', 'Plus de décès que de cas de diarrhée aqueuse'],
    ['More people died of it than had it.', 'Il y a plus de décès que de cas.'],
    A_PART,
    'age2',
  ),
  rule(
    'measles_deaths_within',
    'mustFix',
    'measles_deaths <= measles',
    ['More deaths than cases of measles', 'Plus de décès que de cas de rougeole'],
    ['More people died of it than had it.', 'Il y a plus de décès que de cas.'],
    A_PART,
    'age2',
  ),
  rule(
    'dengue_tested_within',
    'mustFix',
    'dengue_tested <= dengue',
    ['More tested for dengue than suspected', 'Plus de tests de dengue que de suspects'],
    ['Only those who are suspected are tested.', 'Seuls les suspects sont testés.'],
    A_PART,
  ),
  rule(
    'dengue_confirmed_within',
    'mustFix',
    'dengue_confirmed <= dengue_tested',
    ['More dengue confirmed than tested', 'Plus de dengues confirmées que testées'],
    ['A case is confirmed by a test.', 'Un cas est confirmé par un test.'],
    A_PART,
  ),
  rule(
    'diarrhoea_jump',
    'explain',
    'watery_diarrhoea <= 4 * mean_of_last(watery_diarrhoea, 4) + 12',
    ['Watery diarrhoea rose steeply', 'La diarrhée aqueuse a fortement augmenté'],
    [
      'There are many more cases than in the last four weeks. Are they from one place?',
      'Bien plus de cas que les quatre dernières semaines. Viennent-ils d’un même lieu\u202f?',
    ],
    ['It may be the beginning of an outbreak, or a slip.', 'Début d’une flambée, ou erreur.'],
  ),
  rule(
    'bloody_jump',
    'explain',
    'bloody_diarrhoea <= 4 * mean_of_last(bloody_diarrhoea, 4) + 6',
    ['Bloody diarrhoea rose steeply', 'La diarrhée sanglante a fortement augmenté'],
    [
      'There are many more cases than in the last four weeks. Are they from one place?',
      'Bien plus de cas que les quatre dernières semaines. Viennent-ils d’un même lieu\u202f?',
    ],
    ['It may be the beginning of an outbreak, or a slip.', 'Début d’une flambée, ou erreur.'],
  ),
  rule(
    'measles_cluster',
    'explain',
    'measles <= sum_of_last(measles, 4) + 5',
    ['Many suspected measles at once', 'Beaucoup de rougeoles suspectées'],
    [
      'More cases in one week than in the four before. Were they all seen here?',
      'Plus de cas en une semaine que les quatre d’avant. Tous vus ici\u202f?',
    ],
    ['Five or more at once begin an outbreak inquiry.', 'À partir de cinq, une enquête commence.'],
  ),
  rule(
    'tetanus_seen',
    'explain',
    'neonatal_tetanus = 0',
    ['A newborn with tetanus', 'Un nouveau-né avec tétanos'],
    ['Say in a sentence where the child was born.', 'Dites en une phrase où l’enfant est né.'],
    ASK_BY_TELEPHONE,
  ),
  rule(
    'maternal_death_seen',
    'explain',
    'maternal_deaths_week = 0',
    ['A maternal death', 'Un décès maternel'],
    ['Say in a sentence what happened, without a name.', 'Dites en une phrase ce qui est arrivé, sans nom.'],
    ASK_BY_TELEPHONE,
  ),
  rule(
    'dengue_without_tests',
    'note',
    'dengue > 9 implies dengue_tested > 0',
    ['Dengue suspected, none tested', 'Dengue suspectée, aucun test'],
    [
      'Ten or more were suspected and none tested. Are there tests left?',
      'Dix suspects ou plus, aucun test. En reste-t-il\u202f?',
    ],
    ['Perhaps the tests ran out.', 'Les tests manquent peut-être.'],
  ),
  rule(
    'measles_confirmed_within',
    'explain',
    'measles >= count(measles_cases where classification = "confirmed")',
    [
      'Fewer suspected measles than confirmed in the register',
      'Moins de rougeoles suspectées que de confirmées au registre',
    ],
    [
      'The register has more confirmed cases with a rash in this week. Which of them is missing here?',
      'Le registre a plus de cas confirmés avec éruption cette semaine. Lequel manque ici ?',
    ],
    [
      'A confirmed case was a suspected one first: the week was counted too low, or a day is wrong.',
      'Un cas confirmé fut d’abord suspect : semaine sous-comptée, ou jour erroné.',
    ],
  ),
  rule(
    'bites_jump',
    'note',
    'animal_bites <= 3 * mean_of_last(animal_bites, 8) + 5',
    ['Many animal bites', 'Beaucoup de morsures'],
    ['More bites than usual. Is it one animal?', 'Plus de morsures que d’habitude. Un seul animal\u202f?'],
    ['One animal that bites many is looked for.', 'Un animal qui mord souvent est recherché.'],
  ),
  rule(
    'something_seen',
    'note',
    'watery_diarrhoea + bloody_diarrhoea + measles + dengue + animal_bites > 0 or previous(watery_diarrhoea) <= 2',
    ['Nothing seen in a whole week', 'Rien vu de toute la semaine'],
    [
      'Nothing at all was seen this week. Was the register kept?',
      'Rien vu cette semaine. Le registre a-t-il été tenu\u202f?',
    ],
    [
      'Zero everywhere may be a register that was not kept.',
      'Zéro partout\u00a0: registre peut-être non tenu.',
    ],
  ),
]
