import { vocabularyOf } from '#core/expression/vocabulary'
import type { Edition } from '#core/report/edition'
import { compileRuleList } from '#core/rule/compile-rules'
import type { RuleDefinition } from '#core/rule/definition'
import type { Past, TryOut } from '#core/rule/try-out'
import type { TryAsked, TryTold } from '~/workers/try-rule.worker'
import { ApiProblem } from '../common/useApi'
import { readPast } from './usePast'

const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T

/**
 * Trying a rule on the past, in a worker: the page stays free, the work shows how far it is and can be
 * stopped.
 */
export function useTryOut(dataset: () => string) {
  const words = useWords()
  const state = ref<'idle' | 'reading' | 'judging' | 'done' | 'stopped'>('idle')
  /** Share of the rounds that are done, from 0 to 1. */
  const share = ref(0)
  const milliseconds = ref(0)
  const problem = shallowRef<ApiProblem | null>(null)
  const found = shallowRef<{ past: Past; result: TryOut; rule: RuleDefinition } | null>(null)
  let worker: Worker | undefined
  let run = 0

  function stop() {
    run++
    worker?.terminate()
    worker = undefined
    if (state.value === 'reading' || state.value === 'judging') state.value = 'stopped'
  }

  async function start(of: Edition, asked: RuleDefinition): Promise<void> {
    stop()
    const own = ++run
    const [edition, rule] = [plain(of), plain(asked)]
    const compiled = compileRuleList([rule], vocabularyOf(edition), edition.axes)
    if (!compiled.ok) return
    const begun = performance.now()
    problem.value = null
    found.value = null
    share.value = 0
    state.value = 'reading'
    let past: Past
    try {
      past = await readPast(
        dataset(),
        compiled.value.map(one => one.compiled),
      )
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      if (own === run) [problem.value, state.value] = [error, 'idle']
      return
    }
    if (own !== run) return
    if (!past.units.length) {
      found.value = { past, result: { reports: 0, fired: 0, notJudged: 0, hits: [] }, rule }
      state.value = 'done'
      return
    }
    state.value = 'judging'
    worker = new Worker(new URL('../workers/try-rule.worker.ts', import.meta.url), { type: 'module' })
    worker.onmessage = ({ data }: MessageEvent<TryTold>) => {
      if (own !== run) return
      if ('done' in data) share.value = data.done / past.judged
      else {
        if ('result' in data) found.value = { past, result: data.result, rule }
        else problem.value = new ApiProblem(-1, 'client', data.failed)
        milliseconds.value = Math.round(performance.now() - begun)
        state.value = 'result' in data ? 'done' : 'idle'
        worker?.terminate()
        worker = undefined
      }
    }
    worker.onerror = event => {
      if (own !== run) return
      problem.value = new ApiProblem(-1, 'client', event.message)
      state.value = 'idle'
    }
    worker.postMessage({ edition, rule, past, today: words.today() } satisfies TryAsked)
  }

  onBeforeUnmount(stop)
  return { state, share, milliseconds, problem, found, start, stop }
}
