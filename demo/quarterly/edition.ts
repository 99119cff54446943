import type { Edition, Item } from '#core/report/edition'
import { words, type Pair } from '../words'
import { EQUIPMENT_RULES } from './rules'

const item = (code: string, name: Pair, definition: Pair, own: Partial<Item>): Item => ({
  code,
  name: words(name),
  definition: words(definition),
  kind: 'yesNo',
  unitOfMeasure: '',
  rollUp: 'counts',
  range: null,
  axes: [],
  ...own,
})

const count = (code: string, name: Pair, definition: Pair, own: Partial<Item> = {}): Item =>
  item(code, name, definition, {
    kind: 'wholeNumber',
    unitOfMeasure: 'count',
    rollUp: 'last',
    most: 200,
    ...own,
  })

const choice = (code: string, en: string, fr: string) => ({ code, label: { en, fr } })

const autoclaves: Item[] = [
  count(
    'autoclaves',
    ['Autoclaves', 'Autoclaves'],
    ['All that stand here, also those that do not work.', 'Tous ceux qui sont ici, aussi ceux en panne.'],
    { required: 'always' },
  ),
  item(
    'autoclave_works',
    ['An autoclave works', 'Un autoclave fonctionne'],
    [
      'At least one reached its temperature on the last day of the quarter.',
      'Au moins un a atteint sa température le dernier jour du trimestre.',
    ],
    { shownWhen: 'autoclaves > 0', required: 'always' },
  ),
  item(
    'autoclave_why_not',
    ['Why none works', 'Pourquoi aucun ne fonctionne'],
    ['What is broken or missing, in a few words.', 'Ce qui est cassé ou manque, en quelques mots.'],
    { kind: 'text', rollUp: 'none', longest: 200, shownWhen: 'not autoclave_works', required: 'always' },
  ),
  item(
    'autoclave_served_on',
    ['Last service of an autoclave', 'Dernier entretien d’un autoclave'],
    ['The date on the service sheet.', 'La date sur la fiche d’entretien.'],
    { kind: 'date', rollUp: 'latest', shownWhen: 'autoclaves > 0' },
  ),
  item(
    'sterile_by',
    ['How instruments are sterilised', 'Comment les instruments sont stérilisés'],
    ['The usual way in this quarter.', 'La façon habituelle de ce trimestre.'],
    {
      kind: 'oneOf',
      choices: [
        choice('autoclave', 'in an autoclave', 'à l’autoclave'),
        choice('oven', 'in a dry oven', 'au four sec'),
        choice('boiling', 'by boiling', 'à l’eau bouillante'),
        choice('elsewhere', 'at another facility', 'dans un autre établissement'),
      ],
    },
  ),
]

const laboratory: Item[] = [
  count('microscopes', ['Microscopes', 'Microscopes'], ['All that stand here.', 'Tous ceux qui sont ici.'], {
    required: 'always',
  }),
  count(
    'microscopes_working',
    ['Microscopes that work', 'Microscopes qui fonctionnent'],
    ['With lamp and lenses.', 'Avec lampe et objectifs.'],
    { shownWhen: 'microscopes > 0' },
  ),
  item(
    'microscopes_share',
    ['Share that works', 'Part qui fonctionne'],
    ['Computed from the two numbers above.', 'Calculée à partir des deux nombres ci-dessus.'],
    {
      kind: 'computed',
      unitOfMeasure: '%',
      rollUp: 'mean',
      expression: 'round(100 * microscopes_working / microscopes, 1)',
    },
  ),
  item(
    'tests_done',
    ['Tests that are done here', 'Examens faits ici'],
    ['Done at least once in the quarter.', 'Faits au moins une fois dans le trimestre.'],
    {
      kind: 'severalOf',
      choices: [
        choice('malaria', 'malaria microscopy', 'microscopie du paludisme'),
        choice('haemoglobin', 'haemoglobin', 'hémoglobine'),
        choice('urine', 'urine strip', 'bandelette urinaire'),
        choice('pregnancy', 'pregnancy', 'grossesse'),
        choice('tuberculosis', 'sputum', 'crachat'),
      ],
    },
  ),
]

const oxygen: Item[] = [
  count(
    'concentrators',
    ['Oxygen concentrators', 'Concentrateurs d’oxygène'],
    ['All that stand here.', 'Tous ceux qui sont ici.'],
    { required: 'always' },
  ),
  count(
    'concentrators_working',
    ['Concentrators that work', 'Concentrateurs qui fonctionnent'],
    ['They gave oxygen when they were tried.', 'Ils ont donné de l’oxygène à l’essai.'],
    { shownWhen: 'concentrators > 0' },
  ),
  item(
    'oxygen_purity',
    ['Purity of the oxygen', 'Pureté de l’oxygène'],
    ['The lowest that was measured.', 'La plus basse mesurée.'],
    {
      kind: 'decimal',
      unitOfMeasure: '%',
      rollUp: 'mean',
      most: 100,
      shownWhen: 'concentrators_working > 0',
    },
  ),
  item(
    'power_backup',
    ['There is power when the line fails', 'Il y a du courant quand le réseau tombe'],
    ['A generator, batteries or the sun.', 'Un groupe, des batteries ou le soleil.'],
    { rollUp: 'share' },
  ),
  item(
    'oldest_bought',
    ['When the oldest concentrator was bought', 'Achat du concentrateur le plus ancien'],
    ['The year is enough.', 'L’année suffit.'],
    { kind: 'partialDate', rollUp: 'none', shownWhen: 'concentrators > 0' },
  ),
]

/** Edition 1 of theatre and laboratory equipment: a quarter, answers of every kind. */
export const EQUIPMENT: Edition = {
  dataset: 'equipment',
  number: 1,
  name: words(['Theatre and laboratory equipment', 'Équipement de bloc et de laboratoire']),
  frequency: 'quarter',
  timing: { opensAhead: 0, dueDays: 14, closeDays: 60 },
  axes: [],
  sections: [
    { code: 'sterilising', name: words(['Sterilising', 'Stérilisation']), items: autoclaves },
    { code: 'laboratory', name: words(['Laboratory', 'Laboratoire']), items: laboratory },
    { code: 'oxygen', name: words(['Oxygen', 'Oxygène']), items: oxygen },
  ],
  rules: EQUIPMENT_RULES,
  indicators: [
    {
      code: 'microscopes_working_share',
      name: words(['Microscopes that work', 'Microscopes qui fonctionnent']),
      numerator: 'microscopes_working',
      denominator: 'microscopes',
      factor: 100,
      unitOfMeasure: words(['%', '%']),
    },
  ],
}
