import type { DeskOutcome } from '#core/contract/desk'
import { groupBy } from '#core/group-by'
import { checkCell } from '#core/form/check-cell'
import { BLANK, sameContent, type CellContent } from '#core/report/cell'
import type { Problem } from '#core/result'
import { mergeBatch, type FieldState, type Merged } from '#core/sync/merge'
import type { Access } from '../access/access'
import { nowText } from '../clock'
import type { Sql } from '../database'
import { computeCells } from './computed-cells'
import { settleConflicts, theirsOf, writeOthers } from './conflicts'
import { statesOfCells, wasRestoredLately } from './known-cells'
import type { BegunPlace, ReportPlace } from './place'
import { writeCells } from './write-cells'

/** A change of a cell as somebody made it. */
export interface CellAsked {
  id: string
  cell: string
  base: number
  /** The change of the same device that it was made on, while that one was not confirmed. */
  after?: string
  content: CellContent
  why?: string
  /** The conflicts that the person saw and decides with this content. */
  settles?: readonly string[]
}

/** Where changes come from: what their events say, and the device if there is one. */
export interface ChangeOrigin {
  origin: string
  device?: string
}

/**
 * What is wrong with a change by itself: an unknown cell, a value that the item does not take, or any content
 * for what is computed.
 */
function problemOf({ ready }: ReportPlace, { cell, content }: CellAsked): Problem | undefined {
  const definition = ready.cellByKey.get(cell)
  if (!definition) return { code: 'cell-unknown', message: `This edition has no cell ${cell}.` }
  if (content.kind !== 'value' && definition.item.kind !== 'computed') return undefined
  const checked = checkCell(definition.item, content.kind === 'value' ? content.value : null)
  return checked.ok ? undefined : checked.problems[0]
}

/** The changes of one report. */
export interface ReportChanges {
  place: BegunPlace
  changes: readonly CellAsked[]
}

/** How the changes of one report were merged with what stands there. */
interface MergedReport extends ReportChanges {
  problems: ReadonlyMap<CellAsked, Problem | undefined>
  state: FieldState<CellContent>
  merged: Merged<CellContent, CellAsked & { field: string }>[]
}

function merge(batch: ReportChanges, before: FieldState<CellContent>, wasRestored: boolean): MergedReport {
  const problems = new Map(batch.changes.map(change => [change, problemOf(batch.place, change)]))
  const sound = batch.changes.filter(change => !problems.get(change))
  const { state, merged } = mergeBatch(
    before,
    sound.map(change => ({ ...change, field: change.cell })),
    sameContent,
    wasRestored,
  )
  return { ...batch, problems, state, merged }
}

/**
 * Applies changes of the cells of some reports: reads the state of these cells, merges in memory by core's one
 * rule in the order in which the changes were made, writes in a few statements. Each has its own outcome: if one
 * is refused or in conflict, the others are still applied. A change that was applied before changes nothing
 * more.
 *
 * @returns for each report one outcome for each change, in their order.
 */
export async function applyCells(
  sql: Sql,
  batches: readonly ReportChanges[],
  access: Access,
  where: ChangeOrigin,
): Promise<DeskOutcome[][]> {
  const at = nowText()
  const [states, wasRestored] = await Promise.all([
    statesOfCells(
      sql,
      batches.map(({ place, changes }) => ({ report: place.report.id, changes })),
    ),
    wasRestoredLately(sql),
  ])
  const merged = batches.map((batch, number) => merge(batch, states[number]!, wasRestored))
  await writeCells(
    sql,
    merged.flatMap(({ place, merged: own }) =>
      own.flatMap(({ change, decision, before, now }) =>
        decision === 'apply'
          ? [{ ...change, report: place.report.id, old: before?.content ?? BLANK, version: now!.version }]
          : [],
      ),
    ),
    { at, person: access.id, origin: where.origin },
  )
  for (const [ready, own] of groupBy(merged, ({ place }) => place.ready))
    await computeCells(
      sql,
      ready,
      own.map(({ place }) => place.report.id),
    )
  const outcomes: DeskOutcome[][] = []
  for (const one of merged) outcomes.push(await settleOthers(sql, one, access, at, where))
  return outcomes
}

/** Stores what wrote no event, and says what came of each change of a report. */
async function settleOthers(
  sql: Sql,
  { place: { report }, changes, problems, state, merged }: MergedReport,
  access: Access,
  at: string,
  { device }: ChangeOrigin,
): Promise<DeskOutcome[]> {
  await settleConflicts(
    sql,
    report.id,
    access,
    merged.flatMap(({ change, decision }) => (decision === 'apply' || decision === 'same' ? [change] : [])),
    at,
  )
  await writeOthers(
    sql,
    report.id,
    access,
    merged.flatMap(({ change, decision, now }) =>
      decision === 'same' || decision === 'conflict'
        ? [
            {
              ...change,
              outcome: decision,
              standsFor: state.known.get(change.id)!.standsFor,
              here: now?.content ?? BLANK,
            },
          ]
        : [],
    ),
    { at, device: device ?? null },
  )
  const inConflict = merged.flatMap(({ change: { cell }, outcome, now }) =>
    outcome === 'conflict' ? [[cell, now?.content ?? BLANK] as const] : [],
  )
  const theirs = await theirsOf(sql, report.id, new Map(inConflict), at)
  const outcomes = new Map(merged.map(one => [one.change.id, one]))
  return changes.map((change): DeskOutcome => {
    const { id, cell } = change
    const problem = problems.get(change)
    if (problem)
      return {
        id,
        outcome: 'refused',
        version: state.fields.get(cell)?.version ?? 0,
        code: problem.code,
        message: problem.message,
      }
    const { outcome, now } = outcomes.get(id)!
    return {
      id,
      outcome,
      version: now?.version ?? 0,
      ...(outcome === 'conflict' && { theirs: theirs.get(cell)! }),
    }
  })
}
