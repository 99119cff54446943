import type { Edition } from '#core/report/edition'
import { runnableRules, type CompiledRule } from '#core/rule/compile-rules'

/** So many editions stay ready. */
const MOST_READY = 4
const ready = new Map<string, CompiledRule[]>()

/**
 * The rules of an edition, ready to judge. Those of the reports that were opened last stay ready: making
 * hundreds of them holds a slow phone up. By what they say, not by the edition's number: a draft keeps its own.
 */
export function readyRules(edition: Edition): CompiledRule[] {
  const key = JSON.stringify(edition)
  const rules = ready.get(key) ?? runnableRules(edition)
  // The newest last; the oldest goes.
  ready.delete(key)
  ready.set(key, rules)
  if (ready.size > MOST_READY) ready.delete(ready.keys().next().value!)
  return rules
}
