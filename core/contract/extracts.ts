import { Type, type Static } from '@sinclair/typebox'
import type { Name } from '../expression/vocabulary'
import { EXTRACT_ROWS, VALUE_TYPES } from '../extract/about'
import { Count, DayText, exact, Instant, oneOf, orNull, shapeOf, UnitCode, Uuid, Words } from './common'
import { Code } from './drafts'
import { VISIBLE } from './wire'

/** `fhir` is of entries only: a FHIR R4 QuestionnaireResponse a line. */
export const EXTRACT_FORMATS = ['csv', 'xlsx', 'jsonl', 'geojson', 'fhir'] as const
export type ExtractFormat = (typeof EXTRACT_FORMATS)[number]
/** What a column is called: by its short code, by its full path in the form, or in words. */
export const EXTRACT_HEADS = ['short', 'path', 'label'] as const
export type ExtractHeads = (typeof EXTRACT_HEADS)[number]

export const MOST_EXTRACT_COLUMNS = 500
/** The key of a field: `@unit`, `basins.ward`, `children/age`. */
const FieldKey = Type.String({
  pattern: '^(@[a-z][a-z0-9_]{0,40}|[a-z][a-z0-9_]*(/[a-z][a-z0-9_]*)?(\\.[a-z0-9_]+){0,3})$',
  maxLength: 200,
})
const ColumnName = Type.String({ minLength: 1, maxLength: 100, pattern: VISIBLE })
/** Of reports by their period or when they were received; of cases by their events, entry or receipt. */
export const EXTRACT_DAYS = ['period', 'happened', 'made', 'received'] as const

/** What an extract takes, from where, and how it is written. */
export const ExtractDefinition = exact({
  /** A dataset for rows of reports and cells, a register for rows of cases and entries. */
  of: Code,
  rows: oneOf(...EXTRACT_ROWS),
  /** Of entries: those of one form. */
  form: Type.Optional(Code),
  /** In their order in the file. Of cells, the answers among them say which cells are rows; none is all. */
  columns: Type.Array(
    exact({
      key: FieldKey,
      /** What the column is called, where somebody named it. */
      name: Type.Optional(ColumnName),
    }),
    { minItems: 1, maxItems: MOST_EXTRACT_COLUMNS },
  ),
  heads: oneOf(...EXTRACT_HEADS),
  /** Choices, units and yes or no as they are named, or by their codes. */
  choices: oneOf('label', 'code'),
  /** A question with several answers: a column for each of its choices, or one with a list. */
  several: oneOf('columns', 'list'),
  /** A table of the form: a column for each of its places, or a sheet with a row for each of its rows. */
  tables: Type.Optional(oneOf('columns', 'sheets')),
  /** What columns of a table's own sheet are called, where somebody named them: `rooms.basins`. */
  tableNames: Type.Optional(
    Type.Array(exact({ key: FieldKey, name: ColumnName }), { maxItems: MOST_EXTRACT_COLUMNS }),
  ),
  /** A column more for each question, that says why there is no answer. */
  reasons: Type.Boolean(),
  filters: exact({
    unit: Type.Optional(UnitCode),
    by: Type.Optional(oneOf(...EXTRACT_DAYS)),
    from: Type.Optional(DayText),
    to: Type.Optional(DayText),
    /** Of reports; without it those that were received. */
    states: Type.Optional(
      Type.Array(oneOf('draft', 'sent', 'sentBack', 'accepted'), { minItems: 1, maxItems: 4 }),
    ),
    /** Filled by this person, or from this device: in part, where several filled one thing. */
    person: Type.Optional(Uuid),
    device: Type.Optional(Uuid),
    /** Of cases: followed, or closed. */
    state: Type.Optional(oneOf('open', 'closed')),
    /** A condition in the language of rules. */
    where: Type.Optional(Type.String({ minLength: 1, maxLength: 2000, pattern: VISIBLE })),
  }),
  format: oneOf(...EXTRACT_FORMATS),
  language: oneOf('en', 'fr'),
})
export type ExtractDefinition = Static<typeof ExtractDefinition>

/** What somebody can take an extract of. */
export const ExtractSource = exact({
  of: Code,
  kind: oneOf('dataset', 'register'),
  name: Words,
  forms: Type.Array(exact({ code: Code, name: Words })),
})
export const ExtractSources = Type.Array(ExtractSource)
export type ExtractSource = Static<typeof ExtractSource>

export const FieldsQuery = exact({
  of: Code,
  rows: oneOf(...EXTRACT_ROWS),
  form: Type.Optional(Code),
})
export type FieldsQuery = Static<typeof FieldsQuery>

/** People and devices of the branch with a text in their names, or the one that is chosen already. */
export const ExtractMakersQuery = exact({
  find: Type.Optional(Type.String({ maxLength: 100 })),
  id: Type.Optional(Uuid),
})
export type ExtractMakersQuery = Static<typeof ExtractMakersQuery>
const ExtractMaker = exact({ id: Uuid, name: Type.String(), unit: Type.String() })
export type ExtractMaker = Static<typeof ExtractMaker>
export const ExtractMakers = exact({ people: Type.Array(ExtractMaker), devices: Type.Array(ExtractMaker) })
export type ExtractMakers = Static<typeof ExtractMakers>

/** A field as the builder shows it. */
export const FieldLine = exact({
  key: Type.String(),
  short: Type.String(),
  path: Type.String(),
  label: Words,
  type: oneOf(...VALUE_TYPES),
  sections: Type.Array(Words),
  repeat: orNull(Type.String()),
  /** The table of the form in which it stands, and its column where that table is a sheet of its own. */
  inTable: orNull(exact({ table: Type.String(), column: Type.String(), label: Words })),
  isPersonal: Type.Boolean(),
})
export type FieldLine = Static<typeof FieldLine>
export const FieldList = exact({
  fields: Type.Array(FieldLine),
  /** May the person take personal answers out? Where not, they are not among the fields. */
  personal: Type.Boolean(),
  /** What a condition on the rows may name. */
  names: Type.Array(shapeOf<Name>('A name of the language of rules')),
})
export type FieldList = Static<typeof FieldList>

/** A sheet of an extract as it begins. */
export const PreviewSheet = exact({
  name: Type.String(),
  heads: Type.Array(exact({ head: Type.String(), key: Type.String(), label: Type.String() })),
  rows: Type.Array(Type.Array(Type.String())),
})
export const ExtractPreview = exact({
  /** The rows themselves first, then what repeats in them. */
  sheets: Type.Array(PreviewSheet),
  /** How many rows there are; with a condition, how many of the rows that were read pass it. */
  count: Count,
  /** With a condition: how many rows were read, and how many there are before it; null is no condition. */
  counted: orNull(exact({ read: Count, all: Count })),
  /** Columns that are left out: the person may not take personal answers, or nobody asks it any more. */
  leftOut: Type.Array(exact({ key: Type.String(), why: oneOf('personal', 'unknown') })),
})
export type ExtractPreview = Static<typeof ExtractPreview>

export const EXTRACT_REPEATS = ['day', 'week', 'month'] as const
export type ExtractRepeats = (typeof EXTRACT_REPEATS)[number]

const ExtractName = Type.String({ minLength: 1, maxLength: 80, pattern: VISIBLE })

export const ExtractSave = exact({
  name: ExtractName,
  definition: ExtractDefinition,
  /** Everybody who takes extracts sees it, with what they themselves may see. */
  shared: Type.Boolean(),
  /** Written into the installation's folder, or sent to a recipient, by itself; null is never. */
  repeats: orNull(oneOf(...EXTRACT_REPEATS)),
  /** Then only what was received since it was written last, or since the recipient last took one. */
  onlyNew: Type.Boolean(),
  /** The recipient that gets it; without one it is written into the folder. */
  recipient: Type.Optional(orNull(Uuid)),
})
export type ExtractSave = Static<typeof ExtractSave>
/** @see ExtractSave; `version` is the one that was read. */
export const ExtractChange = exact({ ...ExtractSave.properties, version: Count })
export type ExtractChange = Static<typeof ExtractChange>

/** A recipient that takes extracts. */
export const RecipientRef = exact({ id: Uuid, name: Type.String() })
export type RecipientRef = Static<typeof RecipientRef>
/** The same where one is chosen: may personal answers go there? */
export const RecipientChoice = exact({ ...RecipientRef.properties, personal: Type.Boolean() })
export type RecipientChoice = Static<typeof RecipientChoice>

export const SavedExtract = exact({
  id: Uuid,
  name: Type.String(),
  definition: shapeOf<ExtractDefinition>('What it takes'),
  shared: Type.Boolean(),
  /** Whose it is, and whether that is the person who asks. */
  by: Type.String(),
  mine: Type.Boolean(),
  version: Count,
  changedAt: Instant,
  repeats: orNull(oneOf(...EXTRACT_REPEATS)),
  onlyNew: Type.Boolean(),
  /** Where it is sent; null: it is written into the folder. */
  recipient: orNull(Uuid),
  recipientName: orNull(Type.String()),
  /** When it is written or sent next, and was last; and why it could not be. */
  nextAt: orNull(Instant),
  lastAt: orNull(Instant),
  problem: orNull(Type.String()),
})
export type SavedExtract = Static<typeof SavedExtract>
export const ExtractQuery = exact({ after: Type.Optional(Uuid) })
export const ExtractList = exact({
  lines: Type.Array(SavedExtract),
  more: Type.Boolean(),
  /** Has the installation a folder into which extracts are written? */
  hasFolder: Type.Boolean(),
  /** Where extracts can be sent. */
  recipients: Type.Array(RecipientChoice),
})
export type ExtractList = Static<typeof ExtractList>

/** So many extracts go into one file. */
export const MOST_TOGETHER = 20
export const FileAsk = exact({
  extracts: Type.Array(
    exact({
      name: ExtractName,
      definition: ExtractDefinition,
      /** The saved extract that it is taken from; then also only what came since the person last took that out. */
      saved: Type.Optional(Uuid),
      onlyNew: Type.Optional(Type.Boolean()),
    }),
    { minItems: 1, maxItems: MOST_TOGETHER },
  ),
})
export type FileAsk = Static<typeof FileAsk>

export const EXTRACT_FILE_STATES = [
  'waiting',
  'ready',
  'failed',
  'stopped',
  'expired',
  'written',
  'sending',
  'sent',
  'refused',
] as const
/** So many rows that a recipient did not take are shown. */
export const MOST_REFUSED_ROWS = 100
/** A row that a recipient did not take: what it calls it, and why; of an entry also its case. */
export const RefusedRow = exact({ row: Type.String(), message: Type.String(), case: orNull(Uuid) })
export type RefusedRow = Static<typeof RefusedRow>
export const ExtractFileLine = exact({
  id: Uuid,
  /** The name of the file. */
  name: Type.String(),
  by: Type.String(),
  mine: Type.Boolean(),
  at: Instant,
  state: oneOf(...EXTRACT_FILE_STATES),
  /** What was taken out: the names of the extracts, and of which dataset or register each. */
  extracts: Type.Array(exact({ name: Type.String(), of: Type.String(), personal: Type.Boolean() })),
  rows: Count,
  bytes: Count,
  downloads: Count,
  expiresAt: orNull(Instant),
  problem: orNull(Type.String()),
  /** Where it goes or went, with the receipt; null where a person took it out, or it was written into the folder. */
  recipient: orNull(RecipientRef),
  receipt: orNull(Type.String()),
  nextAt: orNull(Instant),
  refused: Type.Array(RefusedRow),
  refusedCount: Count,
})
export type ExtractFileLine = Static<typeof ExtractFileLine>
export const ExtractFileQuery = exact({
  /** The log of everybody, for who may see it; else the own files. */
  whose: Type.Optional(oneOf('own', 'all')),
  after: Type.Optional(Uuid),
})
export type ExtractFileQuery = Static<typeof ExtractFileQuery>
export const ExtractFileList = exact({ lines: Type.Array(ExtractFileLine), more: Type.Boolean() })
export type ExtractFileList = Static<typeof ExtractFileList>

/** A dataset or a register, of which everything that a file can hold is explained. */
export const DictionaryQuery = exact({ of: Code, language: oneOf('en', 'fr') })
export type DictionaryQuery = Static<typeof DictionaryQuery>
export const DictionaryLine = exact({
  path: Type.String(),
  /** The short name of the column. */
  short: Type.String(),
  label: Type.String(),
  /** The kind of question. */
  kind: Type.String(),
  definition: Type.String(),
  unitOfMeasure: Type.String(),
  choices: Type.String(),
  limits: Type.String(),
  /** When it is asked; empty where it always is. */
  condition: Type.String(),
  expression: Type.String(),
  editions: Type.String(),
})
export const DictionaryIndicator = exact({
  code: Type.String(),
  name: Type.String(),
  numerator: Type.String(),
  denominator: Type.String(),
  factor: Type.Number(),
  unitOfMeasure: Type.String(),
  /** The short names of the columns that it is computed from. */
  uses: Type.Array(Type.String()),
})
export const DataDictionary = exact({
  of: Type.String(),
  kind: oneOf('dataset', 'register'),
  name: Words,
  edition: Count,
  indicators: Type.Array(DictionaryIndicator),
  lines: Type.Array(DictionaryLine),
})
export type DataDictionary = Static<typeof DataDictionary>
