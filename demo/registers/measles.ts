import type { CaseRegister } from '#core/cases/register'
import type { Form } from '#core/form/question'
import type { RuleDefinition, Strength } from '#core/rule/definition'
import { ask, choice, mustBe, section, words } from './ask'

const YES_NO_UNKNOWN = [
  choice('yes', 'Yes', 'Oui'),
  choice('no', 'No', 'Non'),
  choice('unknown', 'Unknown', 'Inconnu'),
]
const SEX = [choice('f', 'Female', 'Féminin'), choice('m', 'Male', 'Masculin')]

/** 24 questions in 5 sections. */
export const MEASLES_REGISTRATION: Form = {
  code: 'registration',
  name: words('Measles and rubella: registration', 'Rougeole et rubéole : enregistrement'),
  parts: [
    section('person', 'Person', 'Personne', [
      ask('identifier', 'case_number', 'Case number', 'Numéro du cas', {
        required: 'always',
        pattern: '[A-Z]{3}-\\d{2}-\\d{4}',
      }),
      ask('text', 'full_name', 'Name', 'Nom', { required: 'always', longest: 120 }),
      ask('oneOf', 'sex', 'Sex', 'Sexe', { required: 'always', choices: SEX }),
      ask('partialDate', 'born_on', 'Born on', 'Date de naissance', {
        acceptedIf: [
          mustBe(
            'years_between(born_on, today()) <= 120',
            'Nobody is older than 120.',
            'Personne n’a plus de 120 ans.',
          ),
          mustBe('born_on <= today()', 'This day has not come yet.', 'Ce jour n’est pas encore venu.'),
        ],
      }),
      ask('wholeNumber', 'told_age', 'Age in years, as told', 'Âge en années, selon les dires', {
        shownWhen: 'not filled(born_on)',
        most: 120,
        unitOfMeasure: 'years',
        required: 'always',
      }),
      ask('computed', 'age_years', 'Age at the rash', 'Âge à l’éruption', {
        expression: 'coalesce(years_between(born_on, rash_on), told_age)',
        unitOfMeasure: 'years',
      }),
    ]),
    section('residence', 'Where the person lives', 'Résidence', [
      ask('unit', 'district', 'District', 'District', { level: 2, required: 'always' }),
      ask('unit', 'zone', 'Zone', 'Zone', { level: 3, cascade: 'district', required: 'always' }),
      ask('text', 'village', 'Village', 'Village'),
      ask('text', 'phone', 'Telephone', 'Téléphone', { pattern: '\\+?[0-9 ]{6,18}' }),
    ]),
    section('illness', 'Illness', 'Maladie', [
      ask('date', 'rash_on', 'Day of the rash', 'Jour de l’éruption', {
        required: 'always',
        acceptedIf: [
          mustBe('rash_on <= today()', 'This day has not come yet.', 'Ce jour n’est pas encore venu.'),
        ],
      }),
      ask('date', 'notified_on', 'Day of the notification', 'Jour de la notification', {
        required: 'always',
        default: 'today()',
        acceptedIf: [
          mustBe(
            'notified_on >= rash_on',
            'The notification cannot come before the rash.',
            'La notification ne peut précéder l’éruption.',
          ),
        ],
      }),
      ask('severalOf', 'signs', 'Signs', 'Signes', {
        required: 'always',
        choices: [
          choice('fever', 'Fever', 'Fièvre'),
          choice('cough', 'Cough', 'Toux'),
          choice('red_eyes', 'Red eyes', 'Yeux rouges'),
          choice('runny_nose', 'Runny nose', 'Nez qui coule'),
        ],
      }),
      ask('date', 'fever_on', 'Day of the fever', 'Jour de la fièvre', {
        shownWhen: 'includes(signs, "fever")',
        acceptedIf: [
          mustBe('fever_on <= rash_on', 'The fever comes before the rash.', 'La fièvre précède l’éruption.'),
        ],
      }),
      ask('yesNo', 'admitted', 'Admitted', 'Hospitalisé', { required: 'always' }),
      ask('oneOf', 'outcome', 'Outcome', 'Issue', {
        choices: [
          choice('alive', 'Alive', 'Vivant'),
          choice('died', 'Died', 'Décédé'),
          choice('unknown', 'Unknown', 'Inconnue'),
        ],
      }),
      ask('date', 'died_on', 'Day of the death', 'Jour du décès', {
        shownWhen: 'outcome = "died"',
        required: 'always',
        acceptedIf: [
          mustBe(
            'died_on >= rash_on',
            'The death cannot come before the rash.',
            'Le décès ne peut précéder l’éruption.',
          ),
        ],
      }),
    ]),
    section('vaccination', 'Vaccination', 'Vaccination', [
      ask('oneOf', 'vaccinated', 'Vaccinated against measles', 'Vacciné contre la rougeole', {
        required: 'always',
        choices: YES_NO_UNKNOWN,
      }),
      ask('wholeNumber', 'doses', 'Doses', 'Doses', {
        shownWhen: 'vaccinated = "yes"',
        least: 1,
        most: 5,
        required: 'always',
        unitOfMeasure: 'doses',
      }),
      ask('partialDate', 'last_dose_on', 'Last dose on', 'Dernière dose le', {
        shownWhen: 'vaccinated = "yes"',
      }),
      ask('picture', 'card_photo', 'Photograph of the card', 'Photo du carnet', {
        shownWhen: 'vaccinated = "yes"',
      }),
    ]),
    section('exposure', 'Exposure', 'Exposition', [
      ask('oneOf', 'contact_known', 'Contact with a known case', 'Contact avec un cas connu', {
        required: 'always',
        choices: YES_NO_UNKNOWN,
      }),
      ask(
        'yesNo',
        'travelled',
        'Travelled in the three weeks before',
        'Voyage dans les trois semaines précédentes',
        {},
      ),
      ask('text', 'travelled_to', 'Where', 'Où', { shownWhen: 'travelled' }),
    ]),
  ],
}

export const MEASLES_SPECIMEN: Form = {
  code: 'specimen',
  name: words('Specimen and laboratory result', 'Prélèvement et résultat'),
  parts: [
    ask('identifier', 'specimen_number', 'Specimen number', 'Numéro du prélèvement', { required: 'always' }),
    ask('date', 'taken_on', 'Taken on', 'Prélevé le', { required: 'always' }),
    ask('date', 'sent_on', 'Sent on', 'Envoyé le', {
      acceptedIf: [
        mustBe('sent_on >= taken_on', 'It is sent after it is taken.', 'L’envoi suit le prélèvement.'),
      ],
    }),
    ask('oneOf', 'result', 'Result', 'Résultat', {
      choices: [
        choice('positive', 'Positive', 'Positif'),
        choice('negative', 'Negative', 'Négatif'),
        choice('unclear', 'Unclear', 'Douteux'),
      ],
    }),
    ask('oneOf', 'classification', 'Classification', 'Classification', {
      choices: [
        choice('confirmed', 'Confirmed', 'Confirmé'),
        choice('probable', 'Probable', 'Probable'),
        choice('discarded', 'Discarded', 'Écarté'),
      ],
    }),
  ],
}

export const MEASLES_HOME_VISIT: Form = {
  code: 'home_visit',
  name: words('Home visit', 'Visite à domicile'),
  parts: [
    ask('date', 'home_visited_on', 'Day of the visit', 'Jour de la visite', { required: 'always' }),
    ask('wholeNumber', 'household_size', 'People in the household', 'Personnes dans le ménage', {
      least: 1,
      most: 60,
      unitOfMeasure: 'people',
    }),
    {
      kind: 'repeat',
      code: 'children',
      label: words('Children under 15', 'Enfants de moins de 15 ans'),
      most: 30,
      parts: [
        ask('text', 'child_name', 'Name', 'Nom', { required: 'always' }),
        ask('partialDate', 'child_born_on', 'Born on', 'Date de naissance', { required: 'always' }),
        ask('computed', 'child_months', 'Age in months', 'Âge en mois', {
          expression: 'months_between(child_born_on, home_visited_on)',
        }),
        ask('yesNo', 'child_vaccinated', 'Vaccinated', 'Vacciné', {
          shownWhen: 'child_months >= 9',
          required: 'always',
        }),
      ],
    },
    ask('computed', 'children_to_vaccinate', 'Children to vaccinate', 'Enfants à vacciner', {
      expression: 'count(children where child_months >= 9 and not child_vaccinated)',
    }),
    ask('date', 'next_visit_on', 'Next visit', 'Prochaine visite', {
      default: 'home_visited_on + 14',
      shownWhen: 'children_to_vaccinate > 0',
    }),
  ],
}

const rule = (
  code: string,
  en: string,
  fr: string,
  expression: string,
  strength: Strength,
): RuleDefinition => ({
  code,
  name: words(en, fr),
  expression,
  strength,
  blanks: 'notJudged',
  forClerk: words(en, fr),
  forOfficer: words(en, fr),
})

export const MEASLES_CASES: CaseRegister = {
  code: 'measles_cases',
  name: words('Measles and rubella', 'Rougeole et rubéole'),
  subject: 'person',
  forms: [
    { role: 'registration', form: MEASLES_REGISTRATION, many: false, eventDate: 'notified_on' },
    { role: 'result', form: MEASLES_SPECIMEN, many: true, eventDate: 'taken_on' },
    { role: 'followUp', form: MEASLES_HOME_VISIT, many: true, eventDate: 'home_visited_on' },
  ],
  line: ['case_number', 'full_name', 'age_years', 'rash_on', 'classification'],
  identity: {
    name: 'full_name',
    birthDate: 'born_on',
    ageYears: 'age_years',
    sex: 'sex',
    place: 'zone',
    identifiers: ['case_number', 'phone'],
  },
  countingDate: 'rash_on',
  follow: {
    nextVisit: 'next_visit_on',
    result: 'result',
    household: ['district', 'zone', 'village', 'phone'],
  },
  keeping: {
    years: 5,
    personal: [
      'case_number',
      'full_name',
      'born_on',
      'village',
      'phone',
      'card_photo',
      'travelled_to',
      'child_name',
    ],
  },
  rules: [
    rule(
      'specimen_in_time',
      'The specimen was taken within 28 days after the rash',
      'Le prélèvement a été fait dans les 28 jours après l’éruption',
      'days_between(registration.rash_on, specimen.taken_on) <= 28',
      'explain',
    ),
    rule(
      'specimen_after_rash',
      'The specimen was taken after the rash',
      'Le prélèvement a suivi l’éruption',
      'specimen.taken_on >= registration.rash_on',
      'mustFix',
    ),
    rule(
      'confirmed_by_result',
      'A confirmed case has a positive result',
      'Un cas confirmé a un résultat positif',
      'classification = "confirmed" implies result = "positive"',
      'explain',
    ),
    rule(
      'visited_once',
      'A confirmed case was visited',
      'Un cas confirmé a été visité',
      'classification = "confirmed" implies count(home_visit) >= 1',
      'note',
    ),
  ],
}

export const MEASLES_CONTACT: Form = {
  code: 'contact',
  name: words('Contact', 'Contact'),
  parts: [
    ask('text', 'contact_name', 'Name', 'Nom', { required: 'always' }),
    ask('oneOf', 'contact_sex', 'Sex', 'Sexe', { choices: SEX }),
    ask('wholeNumber', 'contact_age', 'Age in years', 'Âge en années', { most: 120, unitOfMeasure: 'years' }),
    ask('date', 'met_on', 'Last met on', 'Dernier contact le', { required: 'always' }),
    ask('yesNo', 'contact_ill', 'Ill', 'Malade', {}),
  ],
}

/** A contact is a case of its own, tied to the first. */
export const MEASLES_CONTACTS: CaseRegister = {
  code: 'measles_contacts',
  name: words('Contacts of measles cases', 'Contacts des cas de rougeole'),
  subject: 'person',
  parent: 'measles_cases',
  forms: [{ role: 'registration', form: MEASLES_CONTACT, many: false, eventDate: 'met_on' }],
  line: ['contact_name', 'contact_age', 'met_on', 'contact_ill'],
  identity: { name: 'contact_name', ageYears: 'contact_age', sex: 'contact_sex', identifiers: [] },
  countingDate: 'met_on',
  keeping: { years: 5, personal: ['contact_name'] },
  rules: [
    rule(
      'met_while_infectious',
      'Met from four days before the rash to four days after',
      'Rencontré de quatre jours avant à quatre jours après l’éruption',
      'days_between(parent.rash_on, met_on) between -4 and 4',
      'note',
    ),
  ],
}
