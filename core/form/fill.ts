import type { Answers } from './answer'
import { choicesUnder } from './choices'
import { keyFrom, type CompiledForm } from './compile-form'
import { contentAt, NOTHING_FILLED, type Filling, type FillingOptions, type FillingStep } from './filling'
import { splitKey } from './outline'
import type { Choice } from './question'
import { Work } from './work'

/** Opens a form, empty or with the answers of a draft. Answers that do not apply are listed as cleared. */
export function beginFilling(
  compiled: CompiledForm,
  answers: Answers = {},
  options: FillingOptions = {},
): FillingStep {
  const work = new Work(compiled, NOTHING_FILLED, options)
  for (const [key, content] of Object.entries(answers)) work.put(key, content)
  work.everything()
  return work.done()
}

/**
 * Gives answers (or takes them away, with a blank), and computes what depends on them and nothing else. The
 * old filling stays as it was: look at `cleared` first, and keep the new one only if that is wanted.
 */
export function give(
  compiled: CompiledForm,
  filling: Filling,
  changes: Answers,
  options: FillingOptions = {},
): FillingStep {
  const work = new Work(compiled, filling, options)
  for (const [key, content] of Object.entries(changes)) work.put(key, content)
  return work.done()
}

/**
 * Whether an answer does nothing to the others but compute some of them: it shows, hides, clears, narrows and presets
 * none. What follows from such an answer needs no decision of the person, and may be computed later.
 * @example onlyComputes(form, 'deliveries') // true where only a total of births depends on it
 */
export function onlyComputes({ steps, stepOf }: CompiledForm, key: string): boolean {
  const at = stepOf.get((splitKey(key)?.cell ?? key).split('.')[0]!)
  const reached = new Set(at === undefined ? [] : steps[at]!.feeds)
  for (const next of reached) {
    const { computed, shownWhen, feeds } = steps[next]!
    if (!computed || shownWhen) return false
    for (const one of feeds) reached.add(one)
  }
  return true
}

/** The choices that a question offers now; `key` is that of its cell. */
export function choicesNow(compiled: CompiledForm, filling: Filling, key: string): readonly Choice[] {
  const inside = splitKey(key)
  const step = compiled.steps[compiled.stepOf.get((inside?.cell ?? key).split('.')[0]!) ?? -1]
  const question = step?.placed?.question
  if (!question || !('choices' in question)) return []
  return choicesUnder(
    question,
    step.cascade === undefined ? undefined : contentAt(filling, keyFrom(compiled, step.cascade, inside)),
  )
}
