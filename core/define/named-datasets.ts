import { isAmount } from '../rollup/roll-up'
import { itemsOf, type Edition, type NamedDataset } from '../report/edition'

/** A dataset as far as the rules of others may name it: its amounts. */
export const namedDataset = (edition: Edition): NamedDataset => ({
  dataset: edition.dataset,
  name: edition.name,
  frequency: edition.frequency,
  axes: edition.axes,
  items: itemsOf(edition)
    .filter(({ rollUp }) => isAmount(rollUp))
    .map(({ code, name, kind, unitOfMeasure, rollUp, axes }) => ({
      code,
      name,
      kind,
      unitOfMeasure,
      rollUp,
      axes,
    })),
})

/** An edition with those datasets that its rules name before a dot, and no others. */
export function withOthers(edition: Edition, datasets: readonly NamedDataset[]): Edition {
  const named = new Set(
    edition.rules.flatMap(({ expression }) =>
      [...expression.matchAll(/\b([a-z][a-z0-9_]*)\s*\.\s*[a-z]/g)].map(([, code]) => code),
    ),
  )
  const found: Edition = { ...edition, others: datasets.filter(({ dataset }) => named.has(dataset)) }
  if (!found.others!.length) delete found.others
  return found
}
