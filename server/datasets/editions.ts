import { cellsOf, type Cell, type Edition } from '#core/report/edition'
import type { LookBack } from '#core/report/period-table'
import { indicatorExpressions, lookBackOf, runnableRules, type CompiledRule } from '#core/rule/compile-rules'
import type { Sql } from '../database'

/** An edition ready to calculate with. */
export interface ReadyEdition {
  edition: Edition
  cells: Cell[]
  cellByKey: ReadonlyMap<string, Cell>
  rules: CompiledRule[]
  /** So much of a unit's history its rules and ranges are judged on. */
  lookBack: LookBack
  /** So much of a district's history its indicators are computed on. */
  indicatorsLookBack: LookBack
}

/** Editions never change once published, so they are read and compiled once. */
const ready = new Map<string, ReadyEdition>()

export function readyEdition(edition: Edition): ReadyEdition {
  const cells = cellsOf(edition)
  const rules = runnableRules(edition)
  return {
    edition,
    cells,
    cellByKey: new Map(cells.map(cell => [cell.key, cell])),
    rules,
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
