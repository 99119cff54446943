import type { CaseRegister } from '#core/cases/register'
import type { Form } from '#core/form/question'
import type { FormPart } from '#core/form/question'
import { ask, choice, mustBe, section, words } from './ask'

export const NEWBORN_REGISTRATION: Form = {
  code: 'birth',
  name: words('Mother and child', 'Mère et enfant'),
  parts: [
    section('mother', 'Mother', 'Mère', [
      ask('text', 'mother_name', 'Name of the mother', 'Nom de la mère', { required: 'always' }),
      ask('wholeNumber', 'mother_age', 'Age of the mother', 'Âge de la mère', {
        least: 10,
        most: 60,
        unitOfMeasure: 'years',
      }),
      ask('text', 'household_place', 'Where the household lives', 'Lieu du ménage', {}),
      ask('text', 'mother_phone', 'Telephone', 'Téléphone', { pattern: '\\+?[0-9 ]{6,18}' }),
    ]),
    section('child', 'Child', 'Enfant', [
      ask('text', 'baby_name', 'Name of the child', 'Nom de l’enfant', {}),
      ask('oneOf', 'baby_sex', 'Sex', 'Sexe', {
        required: 'always',
        choices: [choice('f', 'Female', 'Féminin'), choice('m', 'Male', 'Masculin')],
      }),
      ask('date', 'baby_born_on', 'Born on', 'Né le', {
        required: 'always',
        acceptedIf: [
          mustBe('baby_born_on <= today()', 'This day has not come yet.', 'Ce jour n’est pas encore venu.'),
        ],
      }),
      ask('time', 'baby_born_at', 'At', 'À', {}),
      ask('wholeNumber', 'birth_weight', 'Weight at birth in grams', 'Poids de naissance en grammes', {
        least: 300,
        most: 7_000,
        unitOfMeasure: 'grams',
      }),
      ask('computed', 'low_weight', 'Low weight', 'Petit poids', { expression: 'birth_weight < 2500' }),
      ask('computed', 'visit_3_on', 'Visit of day 3', 'Visite du 3e jour', {
        expression: 'baby_born_on + 3',
      }),
      ask('computed', 'visit_7_on', 'Visit of day 7', 'Visite du 7e jour', {
        expression: 'baby_born_on + 7',
      }),
      ask('computed', 'visit_42_on', 'Visit of day 42', 'Visite du 42e jour', {
        expression: 'baby_born_on + 42',
      }),
    ]),
  ],
}

const visit = (day: number, parts: FormPart[]): Form => ({
  code: `day_${day}`,
  name: words(`Visit of day ${day}`, `Visite du ${day}e jour`),
  parts: [
    ask('date', `day_${day}_on`, 'Day of the visit', 'Jour de la visite', { required: 'always' }),
    ask('wholeNumber', `day_${day}_weight`, 'Weight in grams', 'Poids en grammes', {
      least: 300,
      most: 12_000,
      unitOfMeasure: 'grams',
    }),
    ...parts,
  ],
})

export const NEWBORNS: CaseRegister = {
  code: 'newborns',
  name: words('Newborn follow-up', 'Suivi des nouveau-nés'),
  subject: 'person',
  forms: [
    { role: 'registration', form: NEWBORN_REGISTRATION, many: false, eventDate: 'baby_born_on' },
    {
      role: 'followUp',
      form: visit(3, [
        ask('yesNo', 'feeds_well', 'Feeds well', 'Tète bien', { required: 'always' }),
        ask('yesNo', 'cord_clean', 'Cord clean and dry', 'Cordon propre et sec', {}),
      ]),
      many: false,
      eventDate: 'day_3_on',
    },
    {
      role: 'followUp',
      form: visit(7, [
        ask('yesNo', 'jaundice', 'Yellow skin or eyes', 'Peau ou yeux jaunes', { required: 'always' }),
      ]),
      many: false,
      eventDate: 'day_7_on',
    },
    {
      role: 'followUp',
      form: visit(42, [
        ask('yesNo', 'first_doses', 'First doses given', 'Premières doses données', { required: 'always' }),
        ask('oneOf', 'mother_well', 'The mother is well', 'La mère va bien', {
          choices: [choice('yes', 'Yes', 'Oui'), choice('no', 'No', 'Non')],
        }),
      ]),
      many: false,
      eventDate: 'day_42_on',
    },
  ],
  line: ['baby_name', 'mother_name', 'baby_born_on', 'birth_weight'],
  identity: {
    name: 'mother_name',
    birthDate: 'baby_born_on',
    sex: 'baby_sex',
    identifiers: ['mother_phone'],
  },
  countingDate: 'baby_born_on',
  rules: [
    {
      code: 'gained_by_day_42',
      name: words('Heavier on day 42 than at birth', 'Plus lourd au 42e jour qu’à la naissance'),
      expression: 'day_42.day_42_weight > birth.birth_weight',
      strength: 'explain',
      blanks: 'notJudged',
      forClerk: words('Weigh the child again.', 'Pesez l’enfant de nouveau.'),
      forOfficer: words(
        'The child lost weight in six weeks, or a weight is wrong.',
        'L’enfant a perdu du poids en six semaines, ou un poids est faux.',
      ),
    },
  ],
}
