import { dependsOn } from '#core/expression/depends-on'
import { cellsOf, type Cell, type Edition, type NamedDataset } from '#core/report/edition'
import type { CompiledForm } from '#core/form/compile-form'
import { livingForm } from '#core/form/form-of-edition'
import { countsIn, type CaseCounting } from '#core/reconcile/count-figures'
import type { LookBack } from '#core/report/period-table'
import { indicatorExpressions, lookBackOf, runnableRules, type CompiledRule } from '#core/rule/compile-rules'
import { titlesOfDoubts } from '#core/rule/title'
import type { Sql } from '../database'

/** An edition ready to calculate with. */
export interface ReadyEdition {
  edition: Edition
  cells: Cell[]
  cellByKey: ReadonlyMap<string, Cell>
  /** How many cells are answered: all but those that are computed. */
  asked: number
  /** For what depends on answers; null where every item is always asked and nothing is computed. */
  form: CompiledForm | null
  rules: CompiledRule[]
  /** What its doubts are called. */
  titleOf: ReturnType<typeof titlesOfDoubts>
  /** The other datasets that its rules name, with the cells that they read, and how far back. */
  others: { named: NamedDataset; cells: string[] }[]
  othersLookBack: LookBack
  /** The counts of cases that its rules make, and how far back. */
  counts: CaseCounting[]
  countsLookBack: LookBack
  /** So much of a unit's history its rules and ranges are judged on. */
  lookBack: LookBack
  /** So much of a district's history its indicators are computed on. */
  indicatorsLookBack: LookBack
}

/** Editions never change once published, so they are read and compiled once. */
const ready = new Map<string, ReadyEdition>()

/** What rules read of other datasets. */
function othersOf({ others = [] }: Edition, rules: readonly CompiledRule[]) {
  const naming = rules.filter(({ compiled }) => Object.keys(dependsOn(compiled).others).length > 0)
  return {
    others: others.map(named => ({
      named,
      cells: [...new Set(naming.flatMap(({ compiled }) => dependsOn(compiled).others[named.dataset] ?? []))],
    })),
    othersLookBack: lookBackOf(
      naming.map(({ compiled }) => compiled),
      0,
    ),
  }
}

/** What rules count of registers. */
function countsOf(rules: readonly CompiledRule[]) {
  const counting = rules.filter(({ compiled }) => dependsOn(compiled).lists.length > 0)
  return {
    counts: countsIn(counting),
    countsLookBack: lookBackOf(
      counting.map(({ compiled }) => compiled),
      0,
    ),
  }
}

export function readyEdition(edition: Edition): ReadyEdition {
  const cells = cellsOf(edition)
  const rules = runnableRules(edition)
  return {
    edition,
    cells,
    cellByKey: new Map(cells.map(cell => [cell.key, cell])),
    asked: cells.filter(({ item }) => item.kind !== 'computed').length,
    form: livingForm(edition),
    rules,
    titleOf: titlesOfDoubts(edition),
    ...othersOf(edition, rules),
    ...countsOf(rules),
    lookBack: lookBackOf(rules.map(({ compiled }) => compiled)),
    indicatorsLookBack: lookBackOf(indicatorExpressions(edition), 0),
  }
}

export async function editionOf(
  sql: Pick<Sql, 'query'>,
  dataset: string,
  number: number,
): Promise<ReadyEdition> {
  const name = `${dataset}~${number}`
  const known = ready.get(name)
  if (known) return known
  const [row] = await sql.query<{ definition: Edition }>(
    'SELECT definition FROM edition WHERE dataset = $1 AND number = $2',
    [dataset, number],
  )
  if (!row) throw new Error(`Edition ${number} of ${dataset} is missing.`)
  const made = readyEdition(row.definition)
  ready.set(name, made)
  return made
}
