import { Type, type Static } from '@sinclair/typebox'
import {
  Count,
  exact,
  Instant,
  oneOf,
  orNull,
  RoundId,
  RoundRef,
  Sentence,
  StateName,
  UnitCode,
  UnitRef,
  Uuid,
} from './common'
import { Code } from './drafts'

/** The largest file, in bytes as it is and as text in base64 (RFC 4648). */
export const LARGEST_REPORT_FILE = 8_000_000
const LARGEST_BASE64 = Math.ceil(LARGEST_REPORT_FILE / 3) * 4
export const MOST_FILE_BYTES = LARGEST_BASE64 + 10_000

export const ReportFileNew = exact({
  dataset: Code,
  /** The round of rows that do not say their period. */
  round: Type.Optional(RoundId),
  name: Type.String({ minLength: 1, maxLength: 200 }),
  base64: Type.String({ minLength: 4, maxLength: LARGEST_BASE64, pattern: '^[A-Za-z0-9+/]+={0,2}$' }),
  /** Whose codes stand in it, where they are not ours: a recipient of signed reports. */
  codesOf: Type.Optional(Uuid),
  /** In which numbers are written in texts. */
  language: oneOf('en', 'fr'),
})
export type ReportFileNew = Static<typeof ReportFileNew>

/** What was refused of a file: a row, or one place of it. */
export const FileRefusal = exact({
  sheet: Type.String(),
  row: Count,
  /** As `AB`; empty for a whole row. */
  column: Type.String(),
  heading: Type.String(),
  code: Type.String(),
  message: Type.String(),
  values: Type.Optional(Type.Record(Type.String(), Type.Union([Type.String(), Type.Number()]))),
})
export type FileRefusal = Static<typeof FileRefusal>

/** So many refusals, and reports, are shown of one file. */
export const MOST_FILE_LINES = 500

/** What a file holds besides the reports that it changes. */
export const FileNotes = exact({
  /** The first ones, and how many there are. */
  refused: Type.Array(FileRefusal),
  refusedCount: Count,
  /** Rows that say what stands there already. */
  same: Count,
  /** Headings without a place in the dataset, and sheets that are hidden. */
  passedOver: Type.Array(Type.String()),
  hidden: Type.Array(Type.String()),
  /** Places with a formula, of which the saved result was taken. */
  formulas: Count,
})
export type FileNotes = Static<typeof FileNotes>

export const FILE_STATES = ['ready', 'applying', 'applied', 'undoing', 'undone'] as const
export const PART_STATES = ['ready', 'done', 'refused', 'undone', 'kept'] as const

export const FilePart = exact({
  round: RoundRef,
  unit: UnitRef,
  sheet: Type.String(),
  row: Count,
  /** How many of its values change. */
  changes: Count,
  state: oneOf(...PART_STATES),
  problem: orNull(Type.String()),
  /** How the report stands now. */
  report: StateName,
})
export type FilePart = Static<typeof FilePart>

export const ReportFileLine = exact({
  id: Uuid,
  dataset: Type.String(),
  name: Type.String(),
  at: Instant,
  by: Type.String(),
  state: oneOf(...FILE_STATES),
  /** Reports of the file, their values, and how many of the reports are in which state. */
  counts: exact({
    ...{ reports: Count, changes: Count },
    ...{ ready: Count, done: Count, refused: Count, undone: Count, kept: Count },
  }),
})
export type ReportFileLine = Static<typeof ReportFileLine>

export const ReportFileView = exact({
  line: ReportFileLine,
  notes: FileNotes,
  parts: Type.Array(FilePart),
  why: orNull(Type.String()),
})
export type ReportFileView = Static<typeof ReportFileView>

export const ReportFileQuery = exact({ after: Type.Optional(Uuid) })
export const ReportFileList = exact({ lines: Type.Array(ReportFileLine), more: Type.Boolean() })
export type ReportFileList = Static<typeof ReportFileList>

export const ReportFileApply = exact({ why: Sentence })

export const TemplateQuery = exact({
  unit: Type.Optional(UnitCode),
  format: oneOf('xlsx', 'csv'),
  language: oneOf('en', 'fr'),
})
