import { compileForm } from '#core/form/compile-form'
import { beginFilling, give } from '#core/form/fill'
import type { AnswerQuestion, Form } from '#core/form/question'
import { must } from '#core/result'
import { measurement, percentile, sweep, type Measurement } from '../measure'
import { randomWhole } from './data'

const QUESTIONS = 300
const CONDITIONS = 120
const ANSWERS = 4_000
const WORK = `one answer to a form of ${QUESTIONS} questions and ${CONDITIONS} conditions`

/** Ten sections of thirty questions; conditions look at earlier questions, some of them along chains. */
function largeForm(): Form {
  const question = (at: number): AnswerQuestion => {
    const code = `q${at}`
    const before = `q${Math.max(0, at - 1 - (at % 7))}`
    if (at % 15 === 14)
      return {
        kind: 'computed',
        code,
        label: {},
        expression: `coalesce(${before}, 0) + coalesce(q${at - 10}, 0)`,
      }
    return {
      kind: 'wholeNumber',
      code,
      label: {},
      required: 'always',
      ...(at % 5 === 1 && { shownWhen: `${before} > 2` }),
      ...(at % 5 === 2 && { acceptedIf: [{ expression: `${code} <= 40 or ${before} > 3`, message: {} }] }),
    }
  }
  return {
    code: 'large',
    name: {},
    parts: Array.from({ length: 10 }, (_, section) => ({
      kind: 'section',
      code: `s${section}`,
      label: {},
      parts: Array.from({ length: QUESTIONS / 10 }, (_, at) => question(section * 30 + at)),
    })),
  }
}

export function forms(): Measurement[] {
  const compiled = must(compileForm(largeForm()))
  const conditions = compiled.steps.reduce((sum, step) => sum + +!!step.shownWhen + step.acceptedIf.length, 0)
  if (conditions !== CONDITIONS) throw new Error(`The form has ${conditions} conditions.`)
  const whole = randomWhole(5)
  const answerOf = (at: number, value: number) => ({ [`q${at}`]: { kind: 'value' as const, value } })
  const all = Object.assign({}, ...Array.from({ length: QUESTIONS }, (_, at) => answerOf(at, whole(0, 50))))
  let filling = beginFilling(compiled, all).filling

  const one: number[] = []
  const everything: number[] = []
  sweep()
  for (let turn = 0; turn < ANSWERS; turn++) {
    const changes = answerOf(whole(0, QUESTIONS - 1), whole(0, 50))
    const start = performance.now()
    const step = give(compiled, filling, changes)
    one.push(performance.now() - start)
    filling = step.filling
    if (turn % 20) continue
    const again = performance.now()
    beginFilling(compiled, Object.fromEntries(filling.answers))
    everything.push(performance.now() - again)
  }
  // In the first quarter the engine is still warming up on both ways.
  const warm = (times: number[]) => times.slice(times.length / 4)
  const slowest = percentile(warm(one), 0.99)
  return [
    measurement(
      WORK,
      slowest,
      percentile(warm(everything), 0.5),
      'recomputing all (ours: 99th percentile)',
      'ms',
      1,
    ),
    measurement(WORK, slowest, 1, 'one millisecond (ours: 99th percentile)', 'ms', 1),
  ]
}
