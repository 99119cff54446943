import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick, ref, shallowRef } from 'vue'
import type { DraftFile, DraftSave } from '#core/contract/drafts'
import { itemsOf } from '#core/report/edition'
import { SMALL } from '../../tests/support/installation'
import { giveGlobals } from '../../tests/support/nuxt-globals'
import { ApiProblem } from '../common/useApi'
import { useDraft } from './useDraft'

const FILE: DraftFile = {
  draft: SMALL,
  reports: [{ by: 'level', level: 4, branch: 'north', from: '2026-10-01', to: null }],
  version: 3,
  saved: { by: 'Ann', at: '2026-11-05T12:00:00Z' },
  published: { ...SMALL, sections: [{ ...SMALL.sections[0]!, items: SMALL.sections[0]!.items.slice(0, 1) }] },
  reporting: {
    all: { count: 2, units: [] },
    joins: { count: 2, units: [] },
    leaves: { count: 0, units: [] },
    without: { count: 0, units: [] },
  },
  mine: true,
  openRounds: [],
  registers: [],
  datasets: [],
  lacks: [],
  differences: [],
}
let answer: (body: DraftSave) => DraftFile
let theirs: DraftFile = FILE
const call = vi.fn((name: string, { body }: { body: DraftSave }): Promise<DraftFile> => {
  if (name.startsWith('GET')) return Promise.resolve(theirs)
  try {
    return Promise.resolve(answer(JSON.parse(JSON.stringify(body)) as DraftSave))
  } catch (error) {
    return Promise.reject(error as Error)
  }
})

beforeEach(() => {
  vi.useFakeTimers()
  call.mockClear()
  answer = body => ({ ...FILE, draft: body.draft, version: body.version + 1 })
  vi.stubGlobal('window', { addEventListener: vi.fn(), removeEventListener: vi.fn() })
  giveGlobals({ callApi: call, useWords: () => ({ locale: ref('en') }) })
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

async function begin() {
  const loaded = shallowRef<DraftFile | null>(FILE)
  const work = useDraft(() => 'small', {
    data: loaded,
    problem: shallowRef(null),
    loading: ref(false),
    reload: () => Promise.resolve(),
  })
  await nextTick()
  await nextTick()
  return { work, loaded }
}
const saves = () => call.mock.calls.filter(([name]) => name.startsWith('PUT'))
const pass = async (milliseconds: number) => {
  await nextTick()
  await vi.advanceTimersByTimeAsync(milliseconds)
}
const codes = (work: ReturnType<typeof useDraft>) =>
  work.draft.value!.sections.map(section => section.items.map(({ code }) => code))

describe('a draft while somebody works on it', () => {
  it('is kept by itself a moment after the last keystroke, on the version that was told last', async () => {
    const { work } = await begin()
    expect(call).not.toHaveBeenCalled()
    work.draft.value!.name.en = 'Smaller'
    await pass(500)
    work.draft.value!.name.en = 'Smallest'
    await nextTick()
    expect(work.state.value).toBe('changed')
    await pass(600)
    expect(call).not.toHaveBeenCalled()
    await pass(200)
    expect(call.mock.calls.map(([, { body }]) => [body.version, body.draft.name.en])).toEqual([
      [3, 'Smallest'],
    ])
    expect([work.state.value, work.file.value!.version]).toEqual(['saved', 4])
    work.reports.value![0]!.from = '2026-11-01'
    await pass(800)
    expect(call.mock.calls[1]![1].body).toMatchObject({ version: 4, reports: [{ from: '2026-11-01' }] })
  })

  it('that somebody else changed overwrites nothing and loses nothing, until theirs is taken', async () => {
    const { work } = await begin()
    answer = () => {
      throw new ApiProblem(409, 'draft-changed', 'Ann was quicker.')
    }
    theirs = { ...FILE, version: 9, draft: { ...SMALL, name: { en: 'Theirs', fr: 'Small' } } }
    work.draft.value!.name.en = 'Mine'
    await pass(800)
    expect([work.state.value, work.problem.value?.code, work.draft.value!.name.en]).toEqual([
      'rejected',
      'draft-changed',
      'Mine',
    ])
    work.draft.value!.name.en = 'Mine too'
    await pass(5_000)
    expect(saves()).toHaveLength(1)
    work.takeTheirs()
    await nextTick()
    expect([work.draft.value!.name.en, work.problem.value, work.state.value]).toEqual([
      'Theirs',
      null,
      'saved',
    ])
  })

  it('is merged with theirs: what one changed is there, what both changed is mine and told', async () => {
    const { work } = await begin()
    answer = () => {
      throw new ApiProblem(409, 'draft-changed', 'Ann was quicker.')
    }
    theirs = {
      ...FILE,
      version: 9,
      draft: { ...SMALL, name: { en: 'Theirs', fr: 'Small' }, timing: { ...SMALL.timing, dueDays: 3 } },
    }
    work.draft.value!.name.en = 'Mine'
    work.addItem(work.draft.value!.sections[0]!, 'Referred')
    await pass(800)
    answer = body => ({ ...FILE, draft: body.draft, version: 10 })
    await work.merge()
    const [, { body }] = saves().at(-1)!
    expect([
      body.version,
      body.draft.name.en,
      body.draft.timing.dueDays,
      itemsOf(body.draft).at(-1)!.code,
    ]).toEqual([9, 'Mine', 3, 'referred'])
    expect([work.both.value, work.state.value, work.file.value!.version]).toEqual([
      ['draft/name/en'],
      'saved',
      10,
    ])
  })

  it('says what is no refusal, and a refusal of another kind is tried again with the next change', async () => {
    const { work } = await begin()
    answer = () => {
      throw new ApiProblem(0, 'unreachable', '')
    }
    work.draft.value!.name.en = 'Offline'
    await pass(800)
    expect(work.state.value).toBe('rejected')
    answer = body => ({ ...FILE, draft: body.draft, version: 4 })
    work.draft.value!.name.en = 'Online'
    await pass(800)
    expect([work.state.value, work.problem.value]).toEqual(['saved', null])
  })
})

describe('its items', () => {
  it('get codes of their own, move over the end of a section, and come back when they were taken out', async () => {
    const { work } = await begin()
    const more = work.addSection('More')
    expect(work.addItem(more, 'Tested').code).toBe('tested_2')
    expect(codes(work)).toEqual([['tested', 'positive', 'seen'], ['tested_2']])
    work.move('seen', 1)
    expect(codes(work)).toEqual([
      ['tested', 'positive'],
      ['seen', 'tested_2'],
    ])
    work.move('seen', -1)
    work.move('seen', -1)
    expect(codes(work)).toEqual([['tested', 'seen', 'positive'], ['tested_2']])
    work.move('tested', -1)
    work.move('tested_2', 1)
    expect(codes(work)).toEqual([['tested', 'seen', 'positive'], ['tested_2']])
    const back = work.remove('seen')
    expect(codes(work)).toEqual([['tested', 'positive'], ['tested_2']])
    back()
    expect(codes(work)).toEqual([['tested', 'seen', 'positive'], ['tested_2']])
  })

  it('that are recoded take their rules along; published codes are known', async () => {
    const { work } = await begin()
    work.recode(itemsOf(work.draft.value!)[1]!, 'found')
    expect(work.draft.value!.rules[0]!.expression).toBe('found <= tested')
    expect([...work.publishedCodes.value]).toEqual(['tested'])
    expect(SMALL.rules[0]!.expression).toBe('positive <= tested')
  })
})
