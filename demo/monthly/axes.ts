import type { Axis } from '#core/report/edition'

const band = (code: string, en: string, fr: string) => ({ code, name: { en, fr } })

export const AXES: Axis[] = [
  {
    code: 'age4',
    name: { en: 'Age', fr: 'Âge' },
    bands: [
      band('u1', 'under 1', 'moins de 1 an'),
      band('a1_4', '1 to 4', '1 à 4 ans'),
      band('a5_14', '5 to 14', '5 à 14 ans'),
      band('a15plus', '15 and over', '15 ans et plus'),
    ],
  },
  {
    code: 'sex',
    name: { en: 'Sex', fr: 'Sexe' },
    bands: [band('f', 'female', 'féminin'), band('m', 'male', 'masculin')],
  },
  {
    code: 'age2',
    name: { en: 'Age', fr: 'Âge' },
    bands: [band('u5', 'under 5', 'moins de 5 ans'), band('a5plus', '5 and over', '5 ans et plus')],
  },
  {
    code: 'mother',
    name: { en: 'Age of the mother', fr: 'Âge de la mère' },
    bands: [band('u20', 'under 20', 'moins de 20 ans'), band('a20plus', '20 and over', '20 ans et plus')],
  },
  {
    code: 'place',
    name: { en: 'Place', fr: 'Lieu' },
    bands: [
      band('facility', 'at the facility', 'à l’établissement'),
      band('home', 'at home, attended', 'à domicile, assistés'),
    ],
  },
  {
    code: 'infant',
    name: { en: 'Age at the dose', fr: 'Âge à la dose' },
    bands: [band('u1y', 'under 1 year', 'moins d’un an'), band('o1y', '1 year and over', 'un an et plus')],
  },
  {
    code: 'vaccine',
    name: { en: 'Vaccine', fr: 'Vaccin' },
    bands: [
      band('bcg', 'BCG', 'BCG'),
      band('polio', 'Polio', 'Polio'),
      band('combined', 'Combined', 'Combiné'),
      band('pneumo', 'Pneumococcal', 'Pneumocoque'),
      band('measles', 'Measles', 'Rougeole'),
      band('tetanus', 'Tetanus', 'Tétanos'),
    ],
  },
]
