import type { Compiled } from '#core/expression/compile'
import { dependsOn } from '#core/expression/depends-on'
import { countsIn } from '#core/reconcile/count-figures'
import { lookBackOf } from '#core/rule/compile-rules'
import type { Past } from '#core/rule/try-out'

/** How many rounds a rule or indicator is tried on. */
export const TRIED_ROUNDS = 12

/**
 * Past reports of a dataset with just the cells that some expressions read, from as far back as they look.
 */
export async function readPast(dataset: string, expressions: readonly Compiled[]): Promise<Past> {
  const needs = expressions.map(expression => dependsOn(expression))
  const cells = new Set(
    expressions.flatMap((expression, at) => [
      ...needs[at]!.cells,
      // What is only read of earlier periods is not among the cells of this one.
      ...[...expression.bindings.names.values()]
        .filter(({ source }) => !source)
        .flatMap(reference => reference.cells),
    ]),
  )
  const counts = countsIn(expressions.map(compiled => ({ compiled }))).map(({ text }) => text)
  return (await callApi('POST /api/drafts/:dataset/past', {
    params: { dataset },
    body: {
      cells: [...cells],
      ...(counts.length && { counts }),
      rounds: TRIED_ROUNDS,
      lookBack: [...lookBackOf(expressions, 0)],
    },
  })) as unknown as Past
}
