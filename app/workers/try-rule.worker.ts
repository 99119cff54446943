import { compileRuleList } from '#core/rule/compile-rules'
import type { RuleDefinition } from '#core/rule/definition'
import { tryOut, type Past, type TryOut } from '#core/rule/try-out'
import type { Edition } from '#core/report/edition'
import { vocabularyOf } from '#core/expression/vocabulary'

/** What the page sends: the edition as it is being worked on, the rule, and the reports to try it on. */
export interface TryAsked {
  edition: Edition
  rule: RuleDefinition
  past: Past
  today: number
}
/** What comes back: how many rounds are done, then the result. */
export type TryTold = { done: number } | { result: TryOut } | { failed: string }

const send = (message: TryTold) => postMessage(message)

addEventListener('message', ({ data: { edition, rule, past, today } }: MessageEvent<TryAsked>) => {
  const compiled = compileRuleList([rule], vocabularyOf(edition), edition.axes)
  if (!compiled.ok) {
    send({ failed: compiled.problems[0]!.message })
    return
  }
  const work = tryOut(compiled.value, past, today)
  for (;;) {
    const step = work.next()
    if (step.done) {
      send({ result: step.value })
      return
    }
    send({ done: step.value })
  }
})
