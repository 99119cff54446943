import type { Problem } from '../result'
import { checkTree } from './check-tree'
import { covers, type UnitHistory, type UnitSpan } from './unit'
import type { RefusedRow, UnitRow, UnitRows } from './unit-row'
import type { UnitTree } from './unit-tree'

/** What a row does to a unit. The weightiest is the verdict of its line. */
export type UnitChange = 'new' | 'reopened' | 'closed' | 'moved' | 'renamed' | 'changed'
export type UnitVerdict = UnitChange | 'unchanged' | 'refused'
export const UNIT_VERDICTS: readonly UnitVerdict[] = [
  'refused',
  'new',
  'reopened',
  'closed',
  'moved',
  'renamed',
  'changed',
  'unchanged',
]

export interface PlannedLine {
  line: number
  code: string
  name: string
  verdict: UnitVerdict
  changes: UnitChange[]
  problems: Problem[]
}

/** What rows would do to the tree from a day on. */
export interface UnitPlan {
  /** In the order of the file. */
  lines: PlannedLine[]
  /** The units that change, as they are (undefined: not there) and as they would be. */
  before: Map<string, UnitHistory | undefined>
  after: Map<string, UnitHistory>
}

type Composed = { history: UnitHistory; changes: UnitChange[] }

/** A unit's spans with other attributes from a day on; its days before stay as they were. */
function from(spans: readonly UnitSpan[], day: number, next: UnitSpan | null): UnitSpan[] {
  const before = spans.flatMap(span =>
    span.from >= day ? [] : [{ ...span, to: span.to === null || span.to > day ? day : span.to }],
  )
  return next ? [...before, next] : before
}

/** Puts a row to what is there of its unit. */
function compose(
  row: UnitRow,
  known: UnitHistory | undefined,
  day: number,
  levelOf: (code: string) => number | undefined,
): Composed {
  const now = known?.spans.find(span => covers(span, day))
  const begins = now ? day : (row.opened ?? day)
  const next: UnitSpan = {
    from: now?.from === day ? now.from : begins,
    to: row.closed ?? now?.to ?? null,
    parent: row.parent,
    name: row.name,
    level: row.level ?? (row.parent === null ? 1 : (levelOf(row.parent) ?? 0) + 1),
    kind: row.kind ?? now?.kind ?? '',
  }
  const position = row.position ?? known?.position
  const history = (spans: UnitSpan[]): UnitHistory => ({
    code: row.code,
    spans,
    ...(position && { position }),
  })
  if (!now)
    return {
      history: history([...(known ? from(known.spans, begins, null) : []), next]),
      changes: [known?.spans.length ? 'reopened' : 'new'],
    }
  const changes: UnitChange[] = []
  if (row.closed !== undefined && row.closed !== now.to) changes.push('closed')
  if (now.parent !== next.parent) changes.push('moved')
  if (now.name !== next.name) changes.push('renamed')
  const samePlace =
    known!.position?.latitude === position?.latitude && known!.position?.longitude === position?.longitude
  if (now.level !== next.level || now.kind !== next.kind || !samePlace) changes.push('changed')
  if (!changes.length) return { history: known!, changes }
  // Closing alone is no new span: the one that there is ends earlier.
  const sameUntilThen =
    changes.every(change => change === 'closed') ||
    (changes.length === 1 && changes[0] === 'changed' && now.level === next.level && now.kind === next.kind)
  const spans = sameUntilThen
    ? known!.spans.map(span => (span === now ? { ...span, to: next.to } : span))
    : from(known!.spans, day, next)
  return { history: history(spans), changes }
}

/**
 * Plans what rows would do from a day on, without doing it. Rows that would spoil the tree are refused with
 * the reason (those of {@link checkTree}), and with them whatever cannot stand without them; the others
 * remain.
 */
export function planChanges(tree: UnitTree, { rows, refused }: UnitRows, day: number): UnitPlan {
  const known = new Map(tree.units.map(unit => [unit.code, unit]))
  const rowLevels = new Map(rows.map(row => [row.code, row]))
  const levelOf = (code: string, seen = 0): number | undefined => {
    const row = rowLevels.get(code)
    if (row?.level !== undefined) return row.level
    if (row && seen < 9) return row.parent === null ? 1 : (levelOf(row.parent, seen + 1) ?? 0) + 1
    return tree.at(code, day)?.level
  }
  const composed = new Map(
    rows.map(row => [row.code, compose(row, known.get(row.code), day, code => levelOf(code))]),
  )
  const refusals = new Map<string, Problem[]>()
  for (let found = true; found;) {
    found = false
    const next = new Map(known)
    for (const [code, { history }] of composed) if (!refusals.has(code)) next.set(code, history)
    for (const one of checkTree([...next.values()])) {
      const guilty = guiltyOf(one, composed, refusals)
      if (guilty === undefined) continue
      refusals.set(guilty, [...(refusals.get(guilty) ?? []), one])
      found = true
    }
  }
  const lines = rows.map(({ line, code, name }): PlannedLine => {
    const problems = refusals.get(code)
    const { changes } = composed.get(code)!
    return problems
      ? { line, code, name, verdict: 'refused', changes: [], problems }
      : { line, code, name, verdict: changes[0] ?? 'unchanged', changes, problems: [] }
  })
  const changed = [...composed].filter(([code, { changes }]) => changes.length && !refusals.has(code))
  return {
    lines: [
      ...lines,
      ...refused.map((row: RefusedRow): PlannedLine => ({ ...row, verdict: 'refused', changes: [] })),
    ].sort((one, other) => one.line - other.line),
    before: new Map(changed.map(([code]) => [code, known.get(code)])),
    after: new Map(changed.map(([code, { history }]) => [code, history])),
  }
}

/**
 * The row that a problem is about: its unit, else what that unit depends on. A ring is the fault of all rows
 * in it.
 */
function guiltyOf(
  { values }: Problem,
  composed: ReadonlyMap<string, Composed>,
  refused: ReadonlyMap<string, unknown>,
): string | undefined {
  const named = [values?.unit, values?.parent, ...String(values?.ring ?? '').split(' → ')].map(String)
  return named.find(
    code => composed.has(code) && !refused.has(code) && composed.get(code)!.changes.length > 0,
  )
}
