import type { Words } from '../report/edition'

/** What a row of an extract stands for. */
export const EXTRACT_ROWS = ['report', 'cell', 'case', 'entry'] as const
export type ExtractRows = (typeof EXTRACT_ROWS)[number]

/** How a value is written: a file that knows types (XLSX, JSON) keeps them. */
export const VALUE_TYPES = ['text', 'number', 'day', 'instant', 'truth'] as const
export type ValueType = (typeof VALUE_TYPES)[number]

/** What a row says besides the answers: which facility, which period, when it came. */
export interface AboutField {
  code: string
  label: Words
  type: ValueType
}

const about = (code: string, type: ValueType, en: string, fr: string): AboutField => ({
  code,
  type,
  label: { en, fr },
})

const UNIT = [
  about('unit', 'text', 'Facility code', 'Code de l’établissement'),
  about('unit_name', 'text', 'Facility', 'Établissement'),
]
const REPORT = [
  ...UNIT,
  about('period', 'text', 'Period', 'Période'),
  about('first_day', 'day', 'First day', 'Premier jour'),
  about('last_day', 'day', 'Last day', 'Dernier jour'),
  about('state', 'text', 'State', 'État'),
  about('edition', 'number', 'Edition', 'Édition'),
  about('due_at', 'instant', 'Due', 'Échéance'),
  about('first_received_at', 'instant', 'First received', 'Reçu la première fois'),
  about('received_at', 'instant', 'Last received', 'Reçu la dernière fois'),
  about('on_time', 'truth', 'On time', 'À l’heure'),
]
const ITEM = [
  about('item', 'text', 'Item code', 'Code de la rubrique'),
  about('item_name', 'text', 'Item', 'Rubrique'),
  about('cell', 'text', 'Cell code', 'Code de la cellule'),
  about('bands', 'text', 'Breakdown', 'Ventilation'),
]
const ANSWER = [
  about('kind', 'text', 'Kind of answer', 'Genre de réponse'),
  about('value', 'number', 'Number', 'Nombre'),
  about('answer', 'text', 'Other answer', 'Autre réponse'),
  about('reason', 'text', 'Why not known', 'Pourquoi non connu'),
]
const CASE = [
  about('case', 'text', 'Case', 'Cas'),
  about('pseudonym', 'text', 'Pseudonym', 'Pseudonyme'),
  ...UNIT,
  about('parent', 'text', 'Belongs to case', 'Appartient au cas'),
]

const codesOf = (fields: readonly AboutField[]): ReadonlySet<string> =>
  new Set(fields.map(({ code }) => code))
/** What is said of a cell's item in every report, and what its answer says. */
export const OF_ITEM = codesOf(ITEM)
export const OF_ANSWER = codesOf(ANSWER)

/** The codes of the fields about a row, in the order in which they are offered. */
export const ABOUT: Readonly<Record<ExtractRows, readonly AboutField[]>> = {
  report: REPORT,
  cell: [...REPORT, ...ITEM, ...ANSWER],
  case: [
    ...CASE,
    about('entries', 'number', 'Entries', 'Saisies'),
    about('last_on', 'day', 'Last event', 'Dernier événement'),
    about('next_visit', 'day', 'Next visit', 'Prochaine visite'),
    about('received_at', 'instant', 'Last received', 'Reçu la dernière fois'),
    about('closed_on', 'day', 'Closed', 'Clos le'),
    about('outcome', 'text', 'Outcome', 'Issue'),
  ],
  entry: [
    ...CASE,
    about('entry', 'text', 'Entry', 'Saisie'),
    about('corrects', 'text', 'Corrects entry', 'Corrige la saisie'),
    about('corrected_by', 'text', 'Corrected by entry', 'Corrigée par la saisie'),
    about('form', 'text', 'Form', 'Fiche'),
    about('edition', 'number', 'Edition', 'Édition'),
    about('happened_on', 'day', 'Day of the event', 'Jour de l’événement'),
    about('made_at', 'instant', 'Entered', 'Saisi'),
    about('received_at', 'instant', 'Received', 'Reçu'),
    about('by', 'text', 'Entered by', 'Saisi par'),
    about('device', 'text', 'Device', 'Appareil'),
    about('paper_on', 'day', 'Day of the paper', 'Jour du papier'),
  ],
}

/**
 * The units above a facility, from the top: one field for each level above the one that reports.
 * @param levels what the installation calls them, from the top
 * @example levelFields([{ en: 'Region' }, { en: 'District' }]) // codes level_1, level_2
 */
export const levelFields = (levels: readonly Words[]): AboutField[] =>
  levels.map((label, at) => ({ code: `level_${at + 1}`, label, type: 'text' }))
