import { Type, type Static } from '@sinclair/typebox'
import type { Problem } from '../result'
import type { ColumnMatch, UnitHeadings } from '../exchange/unit-columns'
import { UNIT_COLUMNS, type UnitFields } from '../geography/unit-row'
import { UNIT_VERDICTS } from '../geography/plan-changes'
import {
  Count,
  DayText,
  exact,
  Instant,
  NameGiven,
  oneOf,
  orNull,
  shapeOf,
  UnitCode,
  Uuid,
  Words,
} from './common'

/** A FHIR bundle of 10,000 units is about 4 MB. */
export const LARGEST_FILE = 12_000_000
export const MOST_ROWS = 20_000

export const UnitFormat = oneOf('csv', 'geojson', 'fhir')
export type UnitFormat = Static<typeof UnitFormat>

export const UnitLine = exact({
  code: UnitCode,
  name: Type.String(),
  parent: orNull(UnitCode),
  level: Type.Integer(),
  kind: Type.String(),
  latitude: orNull(Type.Number()),
  longitude: orNull(Type.Number()),
  /** Open on the day that was asked for? A closed one is shown as it was last, or as it will be. */
  open: Type.Boolean(),
})
export type UnitLine = Static<typeof UnitLine>

export const UnitList = exact({
  day: DayText,
  /** What each level is called, from the top. */
  levels: Type.Array(Words),
  /** The level whose reports are signed, and the one that reports; from 1 at the top. */
  districtLevel: Type.Integer(),
  facilityLevel: Type.Integer(),
  /** Parents before children. */
  units: Type.Array(UnitLine),
  /** Are there units after these, where pages were asked for? */
  more: Type.Boolean(),
})
/** A program gets no more units at once. */
export const MOST_UNITS = 1000
export const UnitQuery = exact({
  day: Type.Optional(DayText),
  /** The last unit of the page before. */
  after: Type.Optional(UnitCode),
  /** How many at once; without it people get all of them, and programs a page. */
  most: Type.Optional(Type.Integer({ minimum: 1, maximum: MOST_UNITS })),
})
export type UnitQuery = Static<typeof UnitQuery>
export type UnitList = Static<typeof UnitList>

export const UnitFile = exact({
  unit: UnitLine,
  path: Type.Array(exact({ code: UnitCode, name: Type.String() })),
  spans: Type.Array(
    exact({
      from: DayText,
      to: orNull(DayText),
      name: Type.String(),
      parent: orNull(exact({ code: UnitCode, name: Type.String() })),
      kind: Type.String(),
      level: Type.Integer(),
    }),
  ),
  /** Datasets that it reports now, and how many reports it has. */
  datasets: Type.Array(Words),
  reports: Count,
  changes: Type.Array(
    exact({ at: Instant, by: Type.String(), source: Type.String(), undone: Type.Boolean() }),
  ),
})
export type UnitFile = Static<typeof UnitFile>

const fields = Object.fromEntries(
  UNIT_COLUMNS.map(column => [column, Type.Optional(Type.String({ maxLength: 200 }))]),
)
/** One row as a person or a file gives it: text in each column. */
export const UnitFieldsRow = Type.Unsafe<UnitFields>(exact(fields))

const heading = Type.Optional(Type.String({ minLength: 1, maxLength: 200 }))
const UnitHeadingsGiven = Type.Unsafe<UnitHeadings>(
  exact(Object.fromEntries(UNIT_COLUMNS.map(column => [column, heading]))),
)

/** How many rows come one by one; more of them come as a file. */
const MOST_TYPED_ROWS = 2_000

/** Where changes come from: rows that somebody typed, or a file; and the day from which they hold. */
export const UnitSource = exact({
  day: DayText,
  rows: Type.Optional(Type.Array(UnitFieldsRow, { minItems: 1, maxItems: MOST_TYPED_ROWS })),
  file: Type.Optional(
    exact({
      format: UnitFormat,
      text: Type.String({ maxLength: LARGEST_FILE }),
      /** CSV only: which heading holds which column, matched by hand. Applying remembers it. */
      columns: Type.Optional(UnitHeadingsGiven),
    }),
  ),
})
export type UnitSource = Static<typeof UnitSource>

export const UnitApply = exact({ ...UnitSource.properties, basis: Type.Integer({ minimum: 0 }) })

export const PlannedUnit = exact({
  line: Count,
  code: Type.String(),
  name: Type.String(),
  verdict: oneOf(...UNIT_VERDICTS),
  changes: Type.Array(Type.String()),
  problems: Type.Array(shapeOf<Problem>('Why it is refused')),
})
export type PlannedUnit = Static<typeof PlannedUnit>

export type UnitCounts = Partial<Record<(typeof UNIT_VERDICTS)[number], number>>
export const UnitCounts = Type.Unsafe<UnitCounts>(
  exact(Object.fromEntries(UNIT_VERDICTS.map(verdict => [verdict, Type.Optional(Count)]))),
)

export const UnitPreview = exact({
  day: DayText,
  /** The tree that the preview was made on: applying it later asks for the same. */
  basis: Type.Integer({ minimum: 0 }),
  counts: UnitCounts,
  lines: Type.Array(PlannedUnit),
  /**
   * What the changes touch: reports of those units from the day on, and district reports that are signed
   * already.
   */
  touched: exact({ reports: Count, signed: Count }),
  /** What else stands in the file and has no place here. */
  passedOver: Type.Array(Type.String()),
  /** Of a CSV file: its headings and the columns that they were matched with. */
  columns: orNull(shapeOf<ColumnMatch>('Headings, columns by heading, and columns that are missing')),
})
export type UnitPreview = Static<typeof UnitPreview>

export const UnitChangeLine = exact({
  id: Uuid,
  at: Instant,
  by: Type.String(),
  source: Type.String(),
  day: DayText,
  counts: UnitCounts,
  undone: orNull(exact({ at: Instant, by: Type.String() })),
  /** May it still be taken back? Only while nothing was changed on top of it. */
  undoable: Type.Boolean(),
})
export type UnitChangeLine = Static<typeof UnitChangeLine>

const Depth = Type.Integer({ minimum: 1, maximum: 9 })
/** What the levels of the tree are called, from the top, and which of them signs and which reports. */
export const LevelsSave = exact({
  levels: Type.Array(NameGiven, { minItems: 1, maxItems: 9 }),
  districtLevel: Depth,
  facilityLevel: Depth,
})
export type LevelsSave = Static<typeof LevelsSave>
/** A unit in a group over days [from, to). */
export const GroupMember = exact({ unit: UnitCode, from: DayText, to: orNull(DayText) })
export type GroupMember = Static<typeof GroupMember>
export const UnitGroupLine = exact({ code: UnitCode, name: Words, members: Type.Array(GroupMember) })
export type UnitGroupLine = Static<typeof UnitGroupLine>
export const UnitGroupSave = exact({
  name: NameGiven,
  members: Type.Array(GroupMember, { maxItems: 10_000 }),
})
