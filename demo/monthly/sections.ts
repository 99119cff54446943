import type { Item, RangeMethod, Section } from '#core/report/edition'

const SHOWN: RangeMethod = { method: 'meanSd', k: 3, raises: null }
/** Raises a doubt only far out, so that a quiet month is not a doubt. */
const WATCHED: RangeMethod = { method: 'meanSd', k: 4, raises: 'explain' }

type Extra = Partial<Pick<Item, 'axes' | 'rollUp' | 'range' | 'unitOfMeasure'>>

const item = (
  code: string,
  en: string,
  fr: string,
  definitionEn: string,
  definitionFr: string,
  extra: Extra = {},
): Item => ({
  code,
  name: { en, fr },
  definition: { en: definitionEn, fr: definitionFr },
  unitOfMeasure: 'count',
  kind: 'wholeNumber',
  rollUp: 'sum',
  range: SHOWN,
  axes: [],
  ...extra,
})

const outpatients: Section = {
  code: 'outpatients',
  name: { en: 'Outpatient visits', fr: 'Consultations externes' },
  items: [
    item(
      'new_visits',
      'New visits',
      'Nouvelles consultations',
      'First visit for an illness. A person with a new illness counts anew.',
      'Première visite pour une maladie. Une nouvelle maladie compte à nouveau.',
      { axes: ['age4', 'sex'], range: WATCHED },
    ),
    item(
      'return_visits',
      'Return visits',
      'Visites de suivi',
      'Visits after the first for the same illness.',
      'Visites après la première pour la même maladie.',
      { axes: ['age4', 'sex'], range: WATCHED },
    ),
    item(
      'admissions',
      'Admissions',
      'Hospitalisations',
      'People who stayed at least one night.',
      'Personnes restées au moins une nuit.',
      { axes: ['age4', 'sex'] },
    ),
    item(
      'referred_out',
      'Referred elsewhere',
      'Référés ailleurs',
      'People sent on to another facility.',
      'Personnes envoyées vers un autre établissement.',
      { axes: ['age2'] },
    ),
    item(
      'fever_tested',
      'Fever, tested',
      'Fièvre, testés',
      'People with fever who had a blood test.',
      'Personnes fiévreuses ayant eu un examen de sang.',
      { axes: ['age2'], range: WATCHED },
    ),
    item(
      'fever_confirmed',
      'Fever, parasite found',
      'Fièvre, parasite trouvé',
      'Tested people in whom the parasite was found.',
      'Personnes testées chez qui le parasite a été trouvé.',
      { axes: ['age2'] },
    ),
    item(
      'pneumonia',
      'Pneumonia',
      'Pneumonie',
      'New visits with pneumonia.',
      'Nouvelles consultations pour pneumonie.',
      { axes: ['age2'] },
    ),
    item(
      'diarrhoea',
      'Diarrhoea',
      'Diarrhée',
      'New visits with diarrhoea, watery or bloody.',
      'Nouvelles consultations pour diarrhée, aqueuse ou sanglante.',
      { axes: ['age2'] },
    ),
    item(
      'injuries',
      'Injuries',
      'Blessures',
      'New visits for any injury.',
      'Nouvelles consultations pour toute blessure.',
      { axes: ['sex'] },
    ),
    item(
      'days_open',
      'Days open',
      'Jours d’ouverture',
      'Days in the month on which patients were seen.',
      'Jours du mois où des patients ont été reçus.',
      { unitOfMeasure: 'days', rollUp: 'mean' },
    ),
  ],
}

const antenatal: Section = {
  code: 'antenatal',
  name: { en: 'Antenatal care', fr: 'Soins prénatals' },
  items: [
    item(
      'antenatal_first',
      'First visits',
      'Premières visites',
      'First antenatal visit in this pregnancy, at any week.',
      'Première visite prénatale de la grossesse, à toute semaine.',
      { axes: ['mother'], range: WATCHED },
    ),
    item(
      'antenatal_fourth',
      'Fourth visits',
      'Quatrièmes visites',
      'Fourth antenatal visit in this pregnancy.',
      'Quatrième visite prénatale de la grossesse.',
      { axes: ['mother'] },
    ),
    item(
      'antenatal_early',
      'First visits before 16 weeks',
      'Premières visites avant 16 semaines',
      'Of the first visits, those before week 16.',
      'Parmi les premières visites, celles avant la 16e semaine.',
    ),
    item(
      'anaemia_tested',
      'Tested for anaemia',
      'Testées pour anémie',
      'Women whose haemoglobin was measured at a first visit.',
      'Femmes dont l’hémoglobine a été mesurée à la première visite.',
    ),
    item(
      'anaemia_found',
      'Anaemia found',
      'Anémie trouvée',
      'Tested women with haemoglobin under 110 g per litre.',
      'Femmes testées avec moins de 110 g d’hémoglobine par litre.',
    ),
    item(
      'syphilis_tested',
      'Tested for syphilis',
      'Testées pour la syphilis',
      'Women tested at any antenatal visit.',
      'Femmes testées à une visite prénatale.',
    ),
    item(
      'syphilis_positive',
      'Syphilis test positive',
      'Test de syphilis positif',
      'Of those tested, positive.',
      'Parmi les testées, positives.',
    ),
    item(
      'syphilis_treated',
      'Treated for syphilis',
      'Traitées pour la syphilis',
      'Of those positive, given treatment.',
      'Parmi les positives, traitées.',
    ),
    item(
      'tetanus_first',
      'Tetanus, first dose',
      'Tétanos, première dose',
      'Pregnant women given their first dose.',
      'Femmes enceintes ayant reçu leur première dose.',
    ),
    item(
      'tetanus_later',
      'Tetanus, second or later dose',
      'Tétanos, deuxième dose ou plus',
      'Pregnant women given a second or later dose.',
      'Femmes enceintes ayant reçu une deuxième dose ou plus.',
    ),
  ],
}

const births: Section = {
  code: 'births',
  name: { en: 'Deliveries and newborns', fr: 'Accouchements et nouveau-nés' },
  items: [
    item(
      'deliveries',
      'Deliveries',
      'Accouchements',
      'Every birth event attended by this facility. Twins count once.',
      'Chaque accouchement assisté par cet établissement. Des jumeaux comptent une fois.',
      { axes: ['mother', 'place'] },
    ),
    item(
      'caesareans',
      'Of these, by caesarean',
      'Dont césariennes',
      'Deliveries at the facility by caesarean section.',
      'Accouchements à l’établissement par césarienne.',
    ),
    item(
      'live_births',
      'Live births',
      'Naissances vivantes',
      'Children born alive. Twins count twice.',
      'Enfants nés vivants. Des jumeaux comptent deux fois.',
      { axes: ['sex'] },
    ),
    item(
      'stillbirths_fresh',
      'Stillbirths, fresh',
      'Mort-nés, frais',
      'Born dead, skin intact.',
      'Nés morts, peau intacte.',
    ),
    item(
      'stillbirths_macerated',
      'Stillbirths, macerated',
      'Mort-nés, macérés',
      'Born dead, skin peeling.',
      'Nés morts, peau décollée.',
    ),
    item(
      'low_weight',
      'Weighed below 2,500 g',
      'Pesés à moins de 2 500 g',
      'Live-born children under 2,500 g at birth.',
      'Enfants nés vivants pesant moins de 2 500 g.',
    ),
    item(
      'newborn_deaths',
      'Newborn deaths before 7 days',
      'Décès de nouveau-nés avant 7 jours',
      'Live-born children who died before day 7.',
      'Enfants nés vivants décédés avant le 7e jour.',
    ),
    item(
      'maternal_deaths',
      'Maternal deaths',
      'Décès maternels',
      'Deaths in pregnancy or within 42 days of its end.',
      'Décès pendant la grossesse ou dans les 42 jours après sa fin.',
    ),
    item(
      'postnatal_early',
      'Mothers seen within 48 hours',
      'Mères vues dans les 48 heures',
      'Mothers examined within 48 hours of delivery.',
      'Mères examinées dans les 48 heures après l’accouchement.',
    ),
    item(
      'breastfed_early',
      'Breastfed in the first hour',
      'Allaités dans la première heure',
      'Live-born children put to the breast within an hour.',
      'Enfants nés vivants mis au sein dans l’heure.',
    ),
  ],
}

const dose = (code: string, en: string, fr: string, range = SHOWN) =>
  item(
    code,
    en,
    fr,
    'Doses given in this month, by the child’s age on that day.',
    'Doses données ce mois, selon l’âge de l’enfant ce jour-là.',
    { axes: ['infant'], unitOfMeasure: 'doses', range },
  )

const immunisation: Section = {
  code: 'immunisation',
  name: { en: 'Immunisation', fr: 'Vaccination' },
  items: [
    dose('bcg', 'BCG', 'BCG'),
    dose('polio_birth', 'Polio, at birth', 'Polio, à la naissance'),
    dose('polio_first', 'Polio, first', 'Polio, première'),
    dose('polio_third', 'Polio, third', 'Polio, troisième'),
    dose('combined_first', 'Combined, first', 'Combiné, première', WATCHED),
    dose('combined_third', 'Combined, third', 'Combiné, troisième', WATCHED),
    dose('pneumo_first', 'Pneumococcal, first', 'Pneumocoque, première'),
    dose('pneumo_third', 'Pneumococcal, third', 'Pneumocoque, troisième'),
    dose('measles_first', 'Measles, first', 'Rougeole, première', WATCHED),
    dose('measles_second', 'Measles, second', 'Rougeole, deuxième'),
    item(
      'outreach_sessions',
      'Outreach sessions held',
      'Séances avancées tenues',
      'Immunisation sessions away from the facility.',
      'Séances de vaccination hors de l’établissement.',
    ),
  ],
}

const stocked = (
  code: string,
  en: string,
  fr: string,
  definitionEn: string,
  definitionFr: string,
  extra: Extra = {},
) => item(code, en, fr, definitionEn, definitionFr, { axes: ['vaccine'], unitOfMeasure: 'doses', ...extra })

const stock: Section = {
  code: 'stock',
  name: { en: 'Vaccine stock', fr: 'Stock de vaccins' },
  items: [
    stocked(
      'stock_opening',
      'At the start',
      'Au début',
      'Doses in the refrigerator on the first day.',
      'Doses au réfrigérateur le premier jour.',
      { rollUp: 'last' },
    ),
    stocked('stock_received', 'Received', 'Reçues', 'Doses that came in.', 'Doses arrivées.'),
    stocked(
      'stock_used',
      'Used',
      'Utilisées',
      'Doses of all opened vials, given or not.',
      'Doses de tous les flacons ouverts, données ou non.',
    ),
    stocked(
      'stock_wasted',
      'Discarded unopened',
      'Jetées non ouvertes',
      'Doses of unopened vials thrown away: expired, frozen, broken.',
      'Doses de flacons non ouverts jetés : périmés, gelés, cassés.',
    ),
    stocked(
      'stock_closing',
      'At the end',
      'À la fin',
      'Doses in the refrigerator on the last day.',
      'Doses au réfrigérateur le dernier jour.',
      { rollUp: 'last' },
    ),
    stocked(
      'days_without',
      'Days without',
      'Jours sans stock',
      'Days in the month with no dose in the refrigerator.',
      'Jours du mois sans aucune dose au réfrigérateur.',
      { unitOfMeasure: 'days', range: null },
    ),
  ],
}

export const SECTIONS: Section[] = [outpatients, antenatal, births, immunisation, stock]
