import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Past } from '#core/rule/try-out'
import { SMALL } from '../../tests/support/installation'
import { giveGlobals } from '../../tests/support/nuxt-globals'
import type { TryAsked, TryTold } from '../workers/try-rule.worker'
import { ApiProblem } from '../common/useApi'
import { useTryOut } from './useTryOut'

const PAST: Past = {
  periods: [
    { period: '2026-10', lastDay: '2026-10-31' },
    { period: '2026-09', lastDay: '2026-09-30' },
  ],
  judged: 2,
  units: [{ code: 'elm', name: 'Elm', path: ['elm'] }],
  received: [1, 1],
  numbers: {},
  notKnown: {},
  notOffered: {},
}
/** The browser's worker, driven by hand. */
class Hand {
  static made: Hand[] = []
  onmessage: (event: { data: TryTold }) => void = () => undefined
  asked: TryAsked | null = null
  ended = false
  constructor() {
    Hand.made.push(this)
  }
  postMessage(asked: TryAsked) {
    this.asked = asked
  }
  terminate() {
    this.ended = true
  }
  tell(data: TryTold) {
    this.onmessage({ data })
  }
}
const call = vi.fn<(name: string, call: { body: object }) => Promise<Past>>()

beforeEach(() => {
  Hand.made = []
  call.mockReset().mockResolvedValue(PAST)
  giveGlobals({ callApi: call })
  vi.stubGlobal('Worker', Hand)
})
afterEach(() => vi.unstubAllGlobals())

const [rule] = SMALL.rules
const settled = () => new Promise(resolve => setTimeout(resolve, 0))

describe('a rule that is tried on the past', () => {
  it('asks for just the cells that it reads, says how far it is, and gives its result', async () => {
    const work = useTryOut(() => 'small')
    void work.start(SMALL, { ...rule!, expression: 'positive <= previous(tested, 3)' })
    expect(work.state.value).toBe('reading')
    await settled()
    expect(call.mock.calls[0]).toMatchObject([
      'POST /api/drafts/:dataset/past',
      { body: { cells: ['positive', 'tested'], rounds: 12, lookBack: [3] } },
    ])
    const [worker] = Hand.made
    expect([work.state.value, worker!.asked!.past]).toEqual(['judging', PAST])
    worker!.tell({ done: 1 })
    expect(work.share.value).toBe(0.5)
    const result = { reports: 4, fired: 1, notJudged: 0, hits: [] }
    worker!.tell({ result })
    expect([work.state.value, work.found.value!.result, worker!.ended]).toEqual(['done', result, true])
  })

  it('is stopped at any time: the worker ends, and what it still says is not heard', async () => {
    const work = useTryOut(() => 'small')
    void work.start(SMALL, rule!)
    work.stop()
    await settled()
    expect([work.state.value, Hand.made.length]).toEqual(['stopped', 0])
    void work.start(SMALL, rule!)
    await settled()
    work.stop()
    expect([work.state.value, Hand.made[0]!.ended]).toEqual(['stopped', true])
    Hand.made[0]!.tell({ result: { reports: 1, fired: 1, notJudged: 0, hits: [] } })
    expect([work.state.value, work.found.value]).toEqual(['stopped', null])
  })

  it('says what went wrong, and does not begin with a rule that has a mistake', async () => {
    const work = useTryOut(() => 'small')
    call.mockRejectedValueOnce(new ApiProblem(404, 'not-found', ''))
    await work.start(SMALL, rule!)
    expect([work.state.value, work.problem.value?.code]).toEqual(['idle', 'not-found'])
    await work.start(SMALL, { ...rule!, expression: 'gone > 1' })
    expect(call).toHaveBeenCalledTimes(1)
    void work.start(SMALL, rule!)
    await settled()
    Hand.made[0]!.tell({ failed: 'broken' })
    expect([work.state.value, work.problem.value?.message]).toEqual(['idle', 'broken'])
  })
})
