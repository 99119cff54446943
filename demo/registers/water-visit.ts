import type { CaseRegister } from '#core/cases/register'
import type { Form, Table } from '#core/form/question'
import { ask, choice, mustBe, section, words } from './ask'

const ROOMS: Table = {
  kind: 'table',
  code: 'rooms',
  label: words('Rooms', 'Salles'),
  rows: [
    { code: 'waiting', name: words('Waiting area', 'Salle d’attente') },
    { code: 'consulting', name: words('Consulting room', 'Salle de consultation') },
    { code: 'injection', name: words('Injection room', 'Salle d’injection') },
    { code: 'latrines', name: words('Latrines', 'Latrines') },
  ],
  columns: [
    ask('wholeNumber', 'basins', 'Wash basins', 'Lavabos', {
      required: 'always',
      most: 40,
      unitOfMeasure: 'basins',
    }),
    ask('wholeNumber', 'working', 'Basins that work', 'Lavabos en état', {
      required: { when: 'basins > 0' },
      most: 40,
      unitOfMeasure: 'basins',
      acceptedIf: [
        mustBe(
          'working <= basins',
          'More basins work than there are.',
          'Il y a plus de lavabos en état que de lavabos.',
        ),
      ],
    }),
    ask('yesNo', 'soap', 'Soap', 'Savon', { required: { when: 'basins > 0' } }),
    ask('wholeNumber', 'litres', 'Litres of water stored', 'Litres d’eau en réserve', {
      most: 20_000,
      unitOfMeasure: 'litres',
    }),
    ask('computed', 'share', 'Share of basins that work', 'Part des lavabos en état', {
      expression: 'if(basins > 0, round(100 * working / basins), 100)',
    }),
  ],
}

/** A supervisor's checklist: the subject is the facility. */
export const WATER_VISIT: Form = {
  code: 'water_visit',
  name: words('Water and hygiene visit', 'Visite eau et hygiène'),
  parts: [
    section('visit', 'Visit', 'Visite', [
      ask('date', 'visited_on', 'Day of the visit', 'Jour de la visite', {
        required: 'always',
        acceptedIf: [
          mustBe('visited_on <= today()', 'This day has not come yet.', 'Ce jour n’est pas encore venu.'),
        ],
      }),
      ask('person', 'visited_by', 'Supervisor', 'Superviseur', { required: 'always' }),
      ask('position', 'place', 'Position', 'Position'),
      ask('severalOf', 'services', 'Services that are given here', 'Services offerts ici', {
        required: 'always',
        choices: [
          choice('delivery', 'Delivery room', 'Salle d’accouchement'),
          choice('laboratory', 'Laboratory', 'Laboratoire'),
          choice('isolation', 'Isolation ward', 'Salle d’isolement'),
        ],
      }),
    ]),
    section('water', 'Water', 'Eau', [
      ask('oneOf', 'source', 'Main source', 'Source principale', {
        required: 'always',
        choices: [
          choice('piped', 'Piped', 'Réseau'),
          choice('borehole', 'Borehole', 'Forage'),
          choice('rain', 'Rain water', 'Eau de pluie'),
          choice('carried', 'Carried here', 'Transportée'),
        ],
      }),
      ask('decimal', 'carried_metres', 'Metres that it is carried', 'Mètres de transport', {
        shownWhen: 'source = "carried"',
        required: 'always',
        most: 20_000,
        unitOfMeasure: 'metres',
      }),
      ROOMS,
      ask(
        'computed',
        'share_in_all',
        'Share of basins that work, in all',
        'Part des lavabos en état, en tout',
        { expression: 'if(basins > 0, round(100 * working / basins), 100)' },
      ),
    ]),
    section(
      'delivery_room',
      'Delivery room',
      'Salle d’accouchement',
      [
        ask('yesNo', 'delivery_hot_water', 'Hot water', 'Eau chaude', { required: 'always' }),
        ask('yesNo', 'delivery_waste_pit', 'Pit for placentas', 'Fosse à placentas', { required: 'always' }),
      ],
      'includes(services, "delivery")',
    ),
    section(
      'laboratory',
      'Laboratory',
      'Laboratoire',
      [
        ask('yesNo', 'laboratory_sink', 'Sink for instruments alone', 'Évier réservé aux instruments', {
          required: 'always',
        }),
      ],
      'includes(services, "laboratory")',
    ),
    section(
      'isolation_ward',
      'Isolation ward',
      'Salle d’isolement',
      [ask('yesNo', 'isolation_basin', 'Basin at its door', 'Lavabo à l’entrée', { required: 'always' })],
      'includes(services, "isolation")',
    ),
    section('closing', 'To close', 'Pour finir', [
      ask('picture', 'photo', 'Photograph of the worst place', 'Photo du pire endroit'),
      ask('text', 'advice', 'Advice that was given', 'Conseils donnés', {
        required: { when: 'share_in_all < 50' },
      }),
    ]),
  ],
}

export const WATER_VISITS: CaseRegister = {
  code: 'water_visits',
  name: words('Water and hygiene visits', 'Visites eau et hygiène'),
  subject: 'unit',
  forms: [{ role: 'registration', form: WATER_VISIT, many: false, eventDate: 'visited_on' }],
  line: ['visited_on', 'source', 'share_in_all'],
  identity: { identifiers: [] },
  countingDate: 'visited_on',
  rules: [
    {
      code: 'works_at_most',
      name: words('More basins work than there are', 'Plus de lavabos en état que de lavabos'),
      expression: 'water_visit.working <= water_visit.basins',
      strength: 'mustFix',
      blanks: 'notJudged',
      forClerk: words('Count the basins again.', 'Recomptez les lavabos.'),
      forOfficer: words('Working basins above basins.', 'Lavabos en état au-dessus du total.'),
    },
  ],
}
