import type { CaseRegister } from '#core/cases/register'
import type { RegisterTried } from '#core/contract/registers'
import { ApiProblem } from '../common/useApi'

/** Hits that are kept for looking at: more nobody opens. */
const MOST_HITS = 100

/** What a rule of a register found on the cases that are there, so far. */
export interface CaseTryFound extends Pick<RegisterTried, 'cases' | 'fired' | 'notJudged' | 'hits'> {
  /** How many cases were looked at, and of how many. */
  looked: number
  all: number
  /** The rule as it was tried. */
  rule: string
}

/** Tries a rule of a register on its cases, a piece at a time: the work shows how far it is and can be stopped. */
export function useCaseTryOut(register: () => string) {
  const state = ref<'idle' | 'judging' | 'done' | 'stopped'>('idle')
  const problem = shallowRef<ApiProblem | null>(null)
  const found = shallowRef<CaseTryFound | null>(null)
  let run = 0

  function stop() {
    run++
    if (state.value === 'judging') state.value = 'stopped'
  }

  async function start(draft: CaseRegister, code: string): Promise<void> {
    stop()
    const own = ++run
    problem.value = null
    state.value = 'judging'
    const rule = JSON.stringify(draft.rules.find(one => one.code === code))
    let sum: CaseTryFound = { cases: 0, fired: 0, notJudged: 0, looked: 0, all: 0, hits: [], rule }
    found.value = sum
    let after: string | null = null
    try {
      do {
        const piece: RegisterTried = await callApi('POST /api/registers/:register/try-rule', {
          params: { register: register() },
          body: { draft, rule: code, ...(after && { after }) },
        })
        if (own !== run) return
        sum = {
          rule,
          cases: sum.cases + piece.cases,
          fired: sum.fired + piece.fired,
          notJudged: sum.notJudged + piece.notJudged,
          looked: sum.looked + piece.looked,
          all: piece.all ?? sum.all,
          hits: [...sum.hits, ...piece.hits].slice(0, MOST_HITS),
        }
        found.value = sum
        after = piece.after
      } while (after)
      state.value = 'done'
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      if (own === run) [problem.value, state.value, found.value] = [error, 'idle', null]
    }
  }
  onScopeDispose(stop)
  return { state, problem, found, start, stop }
}
